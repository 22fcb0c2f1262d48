import type { VoiceSettings } from '../voice/parameters';
import { STARTING_POINTS } from '../voice/starting-points';

function drum(from: string, note: number, set: Partial<VoiceSettings> = {}) {
  const point = STARTING_POINTS.find(({ name }) => name === from);
  if (!point) throw new Error(`There is no starting point ${from}.`);
  return { family: point.family, note, voice: { ...point.voice, variation: 0.2, ...set } };
}

/** The drummer's drums: our own struck voice, with the note that General MIDI has for each. */
export const DRUMS = {
  kick: drum('Tight kick', 36, { toneDecayMs: 340 }),
  snare: drum('Wire snare', 38),
  dry: drum('Dry snare', 40, { toneHz: 262, noiseDecayMs: 90 }),
  hat: drum('Closed hat', 42),
  open: drum('Open hat', 46, { noiseHz: 6000, metalDb: -6, metalHz: 3600 }),
  high: drum('High tom', 50, { toneHz: 182 }),
  middle: drum('Low tom', 47, { toneHz: 122 }),
  low: drum('Low tom', 41, { toneHz: 82, toneDecayMs: 520 }),
  bell: drum('Cow bell', 56),
  block: drum('Wood block', 76),
  triangle: drum('Triangle', 81),
} as const;
export type DrumName = keyof typeof DRUMS;

/** A rhythm that the drummer repeats; a character a step: "X" loud, "x" middling, "o" soft, "." a rest. */
export interface DrummerRhythm {
  readonly name: string;
  /** Beats a minute at full speed, and steps of a beat. */
  readonly bpm: number;
  readonly perBeat: number;
  readonly drums: Partial<Readonly<Record<DrumName, string>>>;
}

/** How hard a step is struck. */
export const STEP_VELOCITIES: Readonly<Record<string, number>> = { X: 118, x: 88, o: 52 };

/** The nine rhythms on its drum, mixed and overlapping as on any such machine. */
export const RHYTHMS: readonly DrummerRhythm[] = [
  {
    name: 'Roundabout',
    bpm: 112,
    perBeat: 4,
    drums: {
      kick: 'X.......x.X.....',
      snare: '....X.......X...',
      hat: 'x.x.x.x.x.x.x...',
      open: '..............x.',
      high: '.............x..',
    },
  },
  {
    name: 'Swing boats',
    bpm: 132,
    perBeat: 3,
    drums: { kick: 'X.....X..x..', snare: '...X.....X..', hat: 'x.ox.oo.ox..', open: '...........x' },
  },
  {
    name: 'Ghost walk',
    bpm: 96,
    perBeat: 4,
    drums: {
      kick: 'X..x......X.....X..x......X.....',
      snare: '....X.......X.......X.......X...',
      dry: '.......x..............x.......o.',
      hat: 'x.x...x.x.x...x.x.x...x...x.x...',
      open: '.....x...............x..........',
      high: '.........................x......',
      middle: '.............................x..',
    },
  },
  {
    name: 'Penny slide',
    bpm: 124,
    perBeat: 4,
    drums: {
      kick: 'X...X...X...X...',
      open: '..x...x...x.....',
      hat: 'o..oo..oo..oo.o.',
      dry: '....X.......X...',
      bell: '..............x.',
    },
  },
  {
    name: 'Big wheel',
    bpm: 90,
    perBeat: 2,
    drums: { kick: 'X.....', snare: '..x.x.', hat: 'x..x.x', triangle: 'o.....' },
  },
  {
    name: 'Tin soldiers',
    bpm: 116,
    perBeat: 4,
    drums: { snare: 'X.xoX.xoX.xoXoxo', kick: 'X...x...X...x...', block: '..x...x...x...x.' },
  },
  {
    name: 'Ring toss',
    bpm: 140,
    perBeat: 4,
    drums: {
      kick: 'X.....x...x.....',
      dry: '........X.......',
      hat: 'x.x.x.x.x.x.x.xo',
      middle: '............x...',
      low: '..............X.',
    },
  },
  {
    name: 'Bumper cars',
    bpm: 170,
    perBeat: 4,
    drums: { kick: 'X.........x.....', snare: '....X..o.o..X..o', hat: 'x.x.x.x.x.x.x.x.', open: '......x.........' },
  },
  {
    name: 'Last orders',
    bpm: 84,
    perBeat: 4,
    drums: {
      low: 'X.......X.......',
      middle: '..x...x...x.....',
      high: '....x.......x...',
      block: 'o.o.o.o.o.o.o.o.',
      kick: 'X...............',
      bell: '..............x.',
    },
  },
];
