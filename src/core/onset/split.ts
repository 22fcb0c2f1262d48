import { choice, number, optional, type Values } from '../parameter/parameter';
import { initialValues } from '../parameter/values';

/** Ways to split a recording. `marks`: at the marks in its file. */
export const SPLIT_METHODS = ['attack', 'silence', 'grid', 'marks'] as const;
export type SplitMethod = (typeof SPLIT_METHODS)[number];

/** Lengths of the grid's steps: note values, T for triplets. */
export const NOTE_VALUES = ['bar', '1/2', '1/4', '1/4T', '1/8', '1/8T', '1/16', '1/16T', '1/32'] as const;
export type NoteValue = (typeof NOTE_VALUES)[number];

const milliseconds = (label: string, low: number, high: number, initial: number) =>
  number({ label, unit: 'ms', low, high, step: 5, initial, scale: 'log' });
const share = (label: string, initial: number) =>
  number({ label, unit: '%', low: 0, high: 1, step: 0.01, digits: 0, initial, times: 100 });

/** By attack: which candidates become slices. Sensitivity 0 keeps only the strongest, 1 every candidate. */
const ATTACK = {
  sensitivity: share('Sensitivity', 0.5),
  spacingMs: milliseconds('Least spacing', 5, 1000, 20),
  band: choice(
    'Listen to',
    [
      ['all', 'all of it'],
      ['low', 'lows, under 250 Hz'],
      ['mid', 'mids'],
      ['high', 'highs, over 3 kHz'],
    ],
    'all',
  ),
  /** Most slices, whatever they are found by; null for all. Of attacks the strongest are kept. */
  strongest: optional({
    label: 'At most',
    unit: 'slices',
    low: 1,
    high: 100_000,
    step: 1,
    whole: true,
    none: { label: 'all', first: 16 },
  }),
  /** Every slice starts this much before its attack. */
  preRollMs: milliseconds('Start before the attack', 0, 500, 0),
} as const;

/** By silence: takes of single sounds with gaps between them. */
const SILENCE = {
  /** Level over which there is sound; null for the suggested one. */
  thresholdDb: optional({
    label: 'Silence under',
    unit: 'dBFS',
    low: -120,
    high: 0,
    step: 1,
    fine: 0.5,
    none: { label: 'by room tone', first: -60 },
  }),
  shortestSoundMs: milliseconds('Shortest sound', 2, 10_000, 20),
  shortestGapMs: milliseconds('Shortest gap', 5, 20_000, 120),
  leadInMs: milliseconds('Lead-in kept', 0, 2000, 2),
  tailMs: milliseconds('Tail kept', 0, 10_000, 60),
} as const;

/** By grid: bars and beats. */
const GRID = {
  /** Quarter notes a minute; null for the estimated tempo. */
  tempoBpm: optional({
    label: 'Tempo',
    unit: 'BPM',
    low: 20,
    high: 400,
    step: 1,
    digits: 2,
    none: { label: 'estimated', first: 120 },
  }),
  beats: number({ label: 'Beats in a bar', unit: '', low: 1, high: 32, step: 1, initial: 4, whole: true }),
  beatUnit: choice(
    'A beat is a',
    [
      [2, '1/2'],
      [4, '1/4'],
      [8, '1/8'],
      [16, '1/16'],
    ],
    4,
  ),
  /** Frame of the recording where the first bar begins; null for the estimated one. */
  downbeatFrame: optional({
    label: 'First bar',
    unit: 'frames',
    low: 0,
    high: Number.MAX_SAFE_INTEGER,
    step: 1,
    whole: true,
    none: { label: 'estimated', first: 0 },
  }),
  noteValue: choice(
    'Note value',
    NOTE_VALUES.map((value) => [value, value.replace('T', ' trip.')] as const),
    '1/8',
  ),
  /** 0: steady lines; 1: lines at the player's own strokes, where those are near. */
  pull: share('Follow the player', 0),
} as const;

/** How a recording is split: the method, and the settings of all methods, so that switching loses none. */
export const SPLIT_PARAMETERS = {
  method: choice(
    'Split by',
    [
      ['attack', 'Attack'],
      ['silence', 'Silence'],
      ['grid', 'Grid'],
      ['marks', 'File’s marks'],
    ],
    'attack',
  ),
  ...ATTACK,
  ...SILENCE,
  ...GRID,
} as const;

export type Split = Values<typeof SPLIT_PARAMETERS>;
export type Band = Split['band'];
export type AttackSplit = Values<typeof ATTACK>;
export type SilenceSplit = Values<typeof SILENCE>;
export type GridSplit = Values<typeof GRID>;

export const SPLIT_INITIAL: Split = initialValues(SPLIT_PARAMETERS);

/** A split for another recording: settings of the first one's own time are left out. */
export function carriedSplit(split: Split): Split {
  return { ...split, downbeatFrame: null };
}

/** A stretch of a recording, half-open [startFrame, endFrame). */
export interface Region {
  readonly startFrame: number;
  readonly endFrame: number;
}
