import { PAN } from '../parameter/pan';
import { number, toggle, type Values } from '../parameter/parameter';
import { initialValues } from '../parameter/values';

/** How a layer of a layered hit lies in the sum. */
export const MEMBER_PARAMETERS = {
  /** Where its first frame lies against the other layers', in frames of the layered hit's rate. */
  offsetFrames: number({
    label: 'Offset',
    unit: 'samples',
    low: -96_000,
    high: 96_000,
    step: 1,
    initial: 0,
    whole: true,
    bipolar: true,
    scale: 'log',
    neutral: 0,
  }),
  levelDb: number({ label: 'Level', unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0, neutral: 0 }),
  /** -1 left .. 1 right, equal power. */
  pan: number({ label: 'Pan', ...PAN }),
  semitones: number({
    label: 'Tune',
    unit: 'st',
    low: -24,
    high: 24,
    step: 1,
    initial: 0,
    whole: true,
    bipolar: true,
    said: 'tuning',
  }),
  cents: number({
    label: 'Fine tune',
    unit: 'cents',
    low: -100,
    high: 100,
    step: 1,
    initial: 0,
    bipolar: true,
    said: 'fine tuning',
  }),
  inverted: toggle('Polarity', ['as it is', 'turned'], false),
  muted: toggle('Heard', ['heard', 'muted'], false, 'muting'),
  /** Where any layer is alone, only such layers are heard. */
  alone: toggle('Alone', ['with the others', 'alone'], false, 'alone'),
} as const;
export type MemberValues = Values<typeof MEMBER_PARAMETERS>;

export const MEMBER_INITIAL = { bandsDb: [] as number[], ...initialValues(MEMBER_PARAMETERS) };

/** A hit has at most so many layers, and layered hits inside layered hits are at most so deep. */
export const MOST_MEMBERS = 8;
export const MOST_DEPTH = 6;
/** Most edges between the bands among which layers share the spectrum. */
export const MOST_EDGES = 4;
/** A layer at this level in a band is out of it. */
export const OUT_DB = -100;
