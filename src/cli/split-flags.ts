import type { SPLIT_PARAMETERS } from '@/core/onset/split';
import type { Flags } from './parameters';

/** The settings of a split on the command line. */
export const SPLIT_FLAGS = {
  method: { flag: 'split', help: 'how slices are found', named: { marks: 'cues' } },
  sensitivity: { flag: 'sensitivity', help: 'by attack: how faint an onset may be' },
  spacingMs: { flag: 'spacing', help: 'by attack: least time between onsets' },
  band: { flag: 'band', help: 'by attack: what is listened to' },
  strongest: {
    flag: 'most',
    help: 'at most so many slices: the strongest attacks, the loudest sounds, the first of a grid or of marks',
  },
  preRollMs: { flag: 'pre-roll', help: 'by attack: start so long before it' },
  thresholdDb: { flag: 'threshold', help: 'by silence: silence lies under it' },
  shortestSoundMs: { flag: 'shortest-sound', help: 'by silence' },
  shortestGapMs: { flag: 'shortest-gap', help: 'by silence' },
  leadInMs: { flag: 'lead-in', help: 'by silence: kept before each sound' },
  tailMs: { flag: 'tail', help: 'by silence: kept after each sound' },
  tempoBpm: { flag: 'tempo', help: 'by grid: quarter notes a minute' },
  beats: { flag: 'beats', help: 'by grid: beats in a bar' },
  beatUnit: { flag: 'beat-unit', help: 'by grid: a beat is one such part of a whole note' },
  downbeatFrame: { flag: 'downbeat', help: 'by grid: where the first bar begins' },
  noteValue: { flag: 'note-value', help: 'by grid: length of a step' },
  pull: { flag: 'pull', help: 'by grid: how far lines follow the player' },
} as const satisfies Flags<typeof SPLIT_PARAMETERS>;
