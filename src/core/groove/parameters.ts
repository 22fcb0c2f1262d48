import { PAN } from '../parameter/pan';
import { choice, number, toggle } from '../parameter/parameter';
import { initialValues } from '../parameter/values';

/** Most strokes of a roll. */
export const MOST_ROLL = 16;

export const GROOVE_PARAMETERS = {
  bpm: number({ label: 'Tempo', unit: 'BPM', low: 20, high: 400, step: 1, fine: 0.1, initial: 120 }),
  /** Where the second of two steps stands between the first and the third; halfway is even. */
  swing: number({
    label: 'Swing',
    unit: '%',
    low: 0.5,
    high: 0.75,
    step: 0.01,
    digits: 0,
    times: 100,
    initial: 0.5,
    neutral: 0.5,
  }),
  swingOf: choice(
    'Swing of',
    [
      [8, '8ths'],
      [16, '16ths'],
      [32, '32nds'],
    ],
    16,
  ),
} as const;

export const ROW_PARAMETERS = {
  muted: toggle('Sounds', ['heard', 'muted'], false, 'muting'),
  alone: toggle('Alone', ['with others', 'alone'], false),
} as const;

export const NOTE_PARAMETERS = {
  velocity: number({
    label: 'Velocity',
    unit: '',
    low: 1,
    high: 127,
    step: 8,
    fine: 1,
    initial: 100,
    digits: 0,
    whole: true,
  }),
  /** Strokes of a roll, spread evenly over the note's length. */
  strokes: number({ label: 'Strokes', unit: '', low: 1, high: MOST_ROLL, step: 1, initial: 1, whole: true }),
  /** Of a roll: how much softer it begins than it ends, or the other way; a share of the velocity. */
  ramp: number({
    label: 'Ramp',
    unit: '%',
    low: -1,
    high: 1,
    step: 0.05,
    digits: 0,
    times: 100,
    initial: 0,
    bipolar: true,
    neutral: 0,
  }),
  /** These five are on top of what the pad has, for this note alone. */
  levelDb: number({ label: 'Level', unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0, bipolar: true }),
  semitones: number({
    label: 'Pitch',
    unit: 'st',
    low: -48,
    high: 48,
    step: 1,
    fine: 0.01,
    digits: 2,
    initial: 0,
    bipolar: true,
  }),
  pan: number({ label: 'Pan', ...PAN }),
  /** Of the cutoff of the pad's filter, where that is on. */
  filterOctaves: number({
    label: 'Filter',
    unit: 'oct',
    low: -8,
    high: 8,
    step: 0.1,
    fine: 0.01,
    digits: 2,
    initial: 0,
    bipolar: true,
  }),
  startMs: number({
    label: 'Start',
    unit: 'ms',
    low: 0,
    high: 2000,
    step: 1,
    fine: 0.1,
    digits: 1,
    initial: 0,
    scale: 'log',
  }),
} as const;

/** A plain stroke. */
export const NOTE_INITIAL = initialValues(NOTE_PARAMETERS);
