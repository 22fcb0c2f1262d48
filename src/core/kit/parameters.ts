import { PAN } from '../parameter/pan';
import { choice, number, optional, toggle, type Values } from '../parameter/parameter';
import { initialValues } from '../parameter/values';

/** Pads under the hands at once: four rows of eight. A kit has several such banks, with a place for each MIDI note. */
export const BANK_SIZE = 32;
export const CHOKE_GROUPS = 32;

const LEVEL = { unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0 };
const TUNE = { unit: 'st', low: -48, high: 48, step: 1, initial: 0, whole: true, bipolar: true, said: 'tuning' };
const FINE = { unit: 'cents', low: -100, high: 100, step: 1, initial: 0, bipolar: true, said: 'fine tuning' };

const VELOCITY = { unit: '', low: 1, high: 127, step: 1, whole: true };

/** How a pad plays. */
export const PAD_PARAMETERS = {
  levelDb: number({ label: 'Level', ...LEVEL }),
  /** Target peak of the summed layers before the level; null leaves it as it is. */
  normaliseDbfs: optional({
    label: 'Normalise to',
    unit: 'dBFS',
    low: -60,
    high: 0,
    step: 0.5,
    none: { label: 'as it is', first: -1 },
    said: 'normalising',
  }),
  semitones: number({ label: 'Tune', ...TUNE }),
  cents: number({ label: 'Fine tune', ...FINE }),
  /** -1 left .. 1 right, equal power. */
  pan: number({ label: 'Pan', ...PAN }),
  /** A one-shot sounds to its end, `held` only while the pad is down. */
  mode: choice(
    'Plays',
    [
      ['one-shot', 'one-shot'],
      ['held', 'while held'],
    ],
    'one-shot',
    'playing',
  ),
  chokeGroup: choice(
    'Choke group',
    [[0, 'none'], ...Array.from({ length: CHOKE_GROUPS }, (_, i) => [i + 1, String(i + 1)] as const)],
    0,
  ),
  /** Cut off the beginning of each layer. */
  startMs: number({ label: 'Start offset', unit: 'ms', low: 0, high: 10_000, step: 1, initial: 0, scale: 'log' }),
  /** Fade before the end of the sound, so that a cut tail does not click. */
  fadeOutMs: number({
    label: 'Fade out',
    unit: 'ms',
    low: 0,
    high: 60000,
    step: 5,
    fine: 1,
    digits: 0,
    initial: 2,
    scale: 'log',
    said: 'fade',
  }),
  /** MIDI note, where it differs from the place's own. */
  note: optional({
    label: 'MIDI note',
    unit: '',
    low: 0,
    high: 127,
    step: 1,
    whole: true,
    none: { label: 'its place’s', first: 36 },
    said: 'note',
  }),
  /** A new strike fades out the pad's earlier voices. */
  oneVoice: toggle('Voices', ['overlap', 'one at a time'], false),
} as const;
export type PadValues = Values<typeof PAD_PARAMETERS>;

/** Settings of new pads in a plan: everything but place, name and sound. */
const { note: _ownToAPlace, ...PLANNED } = PAD_PARAMETERS;
export const PLANNED_PARAMETERS = PLANNED;
/** How a layer sounds relative to the others of its pad. */
export const LAYER_PARAMETERS = {
  levelDb: number({ label: 'Layer level', ...LEVEL, said: 'level' }),
  /** -1 left .. 1 right, equal power. */
  pan: number({ label: 'Layer pan', ...PAN, said: 'pan' }),
  semitones: number({ label: 'Layer tune', ...TUNE }),
  cents: number({ label: 'Layer fine', ...FINE }),
  /** Delay after the stroke. With a negative one, the pad's other layers are delayed instead. */
  offsetMs: number({
    label: 'Layer offset',
    unit: 'ms',
    low: -500,
    high: 500,
    step: 1,
    fine: 0.02,
    digits: 2,
    initial: 0,
    bipolar: true,
    said: 'offset',
  }),
  inverted: toggle('Layer polarity', ['as it is', 'turned'], false, 'polarity'),
  /** It sounds for strokes of these velocities only. */
  lowVelocity: number({ label: 'From velocity', ...VELOCITY, initial: 1, said: 'lowest velocity' }),
  highVelocity: number({ label: 'To velocity', ...VELOCITY, initial: 127, said: 'highest velocity' }),
} as const;
export type LayerValues = Values<typeof LAYER_PARAMETERS>;

export const PAD_INITIAL = initialValues(PAD_PARAMETERS);
export const LAYER_INITIAL = { withHitId: null, ...initialValues(LAYER_PARAMETERS) };
