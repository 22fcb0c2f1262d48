import { PAN } from '../parameter/pan';
import { choice, list, number, optional, toggle, type Values } from '../parameter/parameter';
import { initialValues } from '../parameter/values';
import { PITCH_CLASSES, SCALES, type ScaleName } from '../pitch/intervals';
import { FULL_VELOCITY_DB } from '../play/gains';
import { MAX_CUTS, ROOM_BUS } from '../play/limits';
import { STROKE } from '../treatment/tempo';
import { ENVELOPE_PARAMETERS, MOVES, OSCILLATOR_PARAMETERS } from './moving';

/** Pads under the hands at once: four rows of eight. A kit has several such banks, with a place for each MIDI note. */
export const BANK_SIZE = 32;
/** As many as there are pads. */
export const CHOKE_GROUPS = 128;

const LEVEL = { unit: 'dB', low: -60, high: 24, step: 0.5, initial: 0 };
const TUNE = { unit: 'st', low: -48, high: 48, step: 1, initial: 0, whole: true, bipolar: true, said: 'tuning' };
const FINE = { unit: 'cents', low: -100, high: 100, step: 1, initial: 0, bipolar: true, said: 'fine tuning' };

const SEND = { unit: 'dB', low: -60, high: 12, step: 0.5, none: { label: 'nothing', first: -12 } };

const CUT = { unit: 'ms', low: 0, high: 60_000, step: 1, initial: 0, scale: 'log' } as const;
const FADE = { unit: 'ms', low: 0, high: 60_000, step: 5, fine: 1, digits: 0, scale: 'log' } as const;
const LOOP = { unit: 'ms', low: 0, high: 600_000, step: 1, fine: 0.01, digits: 2, scale: 'log' } as const;
const VELOCITY = { unit: '', low: 1, high: 127, step: 1, whole: true };

/** How a pad sounds: its signal path, from the sample to its output. */
const SOUND = {
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
  /** 0 mono, 1 as it is, 2 its sides doubled. */
  width: number({
    label: 'Width',
    unit: '%',
    low: 0,
    high: 2,
    step: 0.05,
    fine: 0.01,
    digits: 0,
    times: 100,
    initial: 1,
  }),
  filter: choice(
    'Filter',
    [
      ['off', 'off'],
      ['low', 'low-pass'],
      ['high', 'high-pass'],
      ['band', 'band-pass'],
      ['notch', 'notch'],
    ],
    'off',
  ),
  slope: choice(
    'Slope',
    [
      [12, '12 dB/oct'],
      [24, '24 dB/oct'],
    ],
    12,
  ),
  cutoffHz: number({
    label: 'Cutoff',
    unit: 'Hz',
    low: 20,
    high: 20_000,
    step: 10,
    fine: 1,
    digits: 0,
    initial: 20_000,
    scale: 'log',
  }),
  /** Quality factor; 0.71 is the flattest. */
  resonance: number({
    label: 'Resonance',
    unit: 'Q',
    low: 0.5,
    high: 25,
    step: 0.05,
    fine: 0.01,
    digits: 2,
    initial: 0.71,
    scale: 'log',
  }),
  roomSendDb: optional({ label: 'To the room', ...SEND }),
  echoSendDb: optional({ label: 'To the echo', ...SEND }),
  driftCents: number({ label: 'Drift', unit: 'cents', low: 0, high: 100, step: 1, initial: 4, said: 'drift in tune' }),
  driftDb: number({
    label: 'Drift in level',
    unit: 'dB',
    low: 0,
    high: 12,
    step: 0.1,
    fine: 0.05,
    digits: 2,
    initial: 0.3,
  }),
  /** How far under full level the softest stroke is; the curve between is that of the SoundFont 2.04 standard. */
  velocityDb: number({
    label: 'Velocity to level',
    unit: 'dB',
    low: 0,
    high: FULL_VELOCITY_DB,
    step: 1,
    fine: 0.5,
    initial: 18,
    said: 'range of velocity',
  }),
} as const;

/** What of the sample is played. */
const SAMPLE = {
  /** Cut off the beginning of each layer. */
  startMs: number({ label: 'Start offset', ...CUT }),
  /** Cut off the end of each layer. */
  endMs: number({ label: 'End offset', ...CUT }),
  fadeInMs: number({ label: 'Fade in', ...FADE, initial: 0 }),
  /** Fade before the end of the sound, so that a cut tail does not click. */
  fadeOutMs: number({ label: 'Fade out', ...FADE, initial: 2, said: 'fade' }),
  reversed: toggle('Direction', ['forwards', 'backwards'], false),
  /** Stretch that is repeated while it loops, from the first frame that is played; null for all of it. */
  loopStartMs: optional({ label: 'Loop from', ...LOOP, none: { label: 'the start', first: 10 } }),
  loopEndMs: optional({ label: 'Loop to', ...LOOP, none: { label: 'the end', first: 500 } }),
  /** Crossfade over the seam of the loop. */
  seamMs: number({ label: 'Seam fade', unit: 'ms', low: 0, high: 5000, step: 1, fine: 0.1, initial: 5, scale: 'log' }),
} as const;

/** How a loop goes with the kit's tempo. */
const LOOPED = {
  fit: choice(
    'In tempo',
    [
      ['own', 'at its own speed'],
      ['slices', 'by its slices'],
      ['stretched', 'stretched'],
    ],
    'own',
    'way to the tempo',
  ),
  /** Tempo of the loop; null where it is not known. */
  loopBpm: optional({
    label: 'Its own tempo',
    unit: 'BPM',
    low: 20,
    high: 400,
    step: 1,
    fine: 0.1,
    digits: 1,
    none: { label: 'not known', first: 120 },
    said: 'tempo of its own',
  }),
  /** Where its slices begin, from the first frame of the hit. */
  cuts: list('Slices', STROKE, MAX_CUTS),
} as const;

/** How strokes play it. */
const PLAYING = {
  /** A one-shot sounds to its end, a held pad until it is released; a loop repeats until it is released, or struck again. */
  mode: choice(
    'Plays',
    [
      ['one-shot', 'one-shot'],
      ['held', 'while held'],
      ['looped', 'looped while held'],
      ['switched', 'looped until struck again'],
    ],
    'one-shot',
    'playing',
  ),
  chokeGroup: choice(
    'Choke group',
    [[0, 'none'], ...Array.from({ length: CHOKE_GROUPS }, (_, i) => [i + 1, String(i + 1)] as const)],
    0,
  ),
  /** How fast it is silenced by its group. */
  chokeMs: number({ label: 'Choke fade', unit: 'ms', low: 1, high: 5000, step: 1, initial: 4, scale: 'log' }),
  /** Strokes that sound at once: one more cuts the oldest. */
  voices: optional({
    label: 'Voices',
    unit: '',
    low: 1,
    high: 32,
    step: 1,
    whole: true,
    none: { label: 'any number', first: 1 },
  }),
  /** Which of the takes for a stroke's velocity comes. */
  takeOrder: choice(
    'Takes',
    [
      ['in order', 'each in turn'],
      ['at random', 'at random, none twice'],
    ],
    'in order',
    'order of takes',
  ),
  muted: toggle('Sounds', ['heard', 'muted'], false, 'muting'),
  /** Where any pad is alone, only those are heard. */
  alone: toggle('Alone', ['with the others', 'alone'], false, 'hearing alone'),
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
} as const;

/** How a pad plays. */
export const PAD_PARAMETERS = {
  ...SOUND,
  ...SAMPLE,
  ...LOOPED,
  ...PLAYING,
  ...ENVELOPE_PARAMETERS,
  ...OSCILLATOR_PARAMETERS,
  moves: MOVES,
} as const;
export type PadValues = Values<typeof PAD_PARAMETERS>;

/** The parameters of new pads that a plan can set: those that make sense for all sounds of a recording. */
export const PLANNED_PARAMETERS = {
  levelDb: SOUND.levelDb,
  normaliseDbfs: SOUND.normaliseDbfs,
  semitones: SOUND.semitones,
  cents: SOUND.cents,
  pan: SOUND.pan,
  velocityDb: SOUND.velocityDb,
  mode: PLAYING.mode,
  chokeGroup: PLAYING.chokeGroup,
  voices: PLAYING.voices,
  startMs: SAMPLE.startMs,
  fadeInMs: SAMPLE.fadeInMs,
  fadeOutMs: SAMPLE.fadeOutMs,
} as const;
/** What a layout may say of how a role plays, whatever sound has it. */
export const ROLE_PARAMETERS = {
  mode: PLAYING.mode,
  voices: PLAYING.voices,
  chokeGroup: PLAYING.chokeGroup,
  chokeMs: PLAYING.chokeMs,
  takeOrder: PLAYING.takeOrder,
  velocityDb: SOUND.velocityDb,
  roomSendDb: SOUND.roomSendDb,
  echoSendDb: SOUND.echoSendDb,
} as const;

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
  /** One of the takes, of which a stroke plays one, or sounding with every stroke. */
  isTake: toggle('Sounds', ['with the others', 'as a take'], false, 'part'),
  /** It sounds for strokes of these velocities only. */
  lowVelocity: number({ label: 'From velocity', ...VELOCITY, initial: 1, said: 'lowest velocity' }),
  highVelocity: number({ label: 'To velocity', ...VELOCITY, initial: 127, said: 'highest velocity' }),
} as const;
export type LayerValues = Values<typeof LAYER_PARAMETERS>;

/** The tonic of a kit without a key. */
export const NO_KEY = -1;

/** How a kit plays: what applies to all its pads. */
export const KIT_PARAMETERS = {
  tempoBpm: number({ label: 'Tempo', unit: 'BPM', low: 20, high: 400, step: 1, fine: 0.1, initial: 120 }),
  /** Every stroke has this velocity; null leaves each its own. */
  evenVelocity: optional({ label: 'Even strokes', ...VELOCITY, none: { label: 'each its own', first: 100 } }),
  /** Below the middle soft strokes become softer, above it harder. */
  velocityCurve: number({
    label: 'Velocity curve',
    unit: '%',
    low: -1,
    high: 1,
    step: 0.05,
    fine: 0.01,
    digits: 0,
    times: 100,
    initial: 0,
    bipolar: true,
    sides: ['% softer', 'even', '% harder'],
  }),
  /** Its key, for the roots of its pads: nothing is moved by it alone. */
  tonic: choice(
    'Key',
    [[NO_KEY, 'none'] as const, ...PITCH_CLASSES.map((name, i) => [i, name] as const)],
    NO_KEY as number,
  ),
  scale: choice(
    'Scale',
    (Object.keys(SCALES) as ScaleName[]).map((name) => [name, name] as const),
    'minor',
  ),
  /** These four apply on top of what each pad has. */
  transpose: number({ label: 'Transpose', ...TUNE, neutral: 0, said: 'transposition' }),
  levelDb: number({ label: 'Level', ...LEVEL }),
  attackMs: number({ label: 'Attack', unit: 'ms', low: 0, high: 5000, step: 1, initial: 0, scale: 'log' }),
  /** Longest tail of every stroke; null leaves each as it is. */
  tailMs: optional({
    label: 'Tails at most',
    unit: 'ms',
    low: 5,
    high: 60_000,
    step: 5,
    fine: 1,
    digits: 0,
    scale: 'log',
    none: { label: 'as they are', first: 400 },
    said: 'longest tail',
  }),
  limiter: toggle('Limiter', ['off', 'on'], true),
} as const;
export type KitValues = Values<typeof KIT_PARAMETERS>;

/** What of a whole kit a layout can tell: how it plays, not its key. */
const { tonic: _tonic, scale: _scale, ...LAYOUT_PARAMETERS } = KIT_PARAMETERS;

export { LAYOUT_PARAMETERS };

/** What a kit says of itself, in a person's own words; nothing at first. */
export const KIT_WORDS = {
  ...{ author: '', about: '', words: [] as string[], notes: '', supplied: false },
  ...{ seed: null as number | null, versionOf: null as string | null, keptAt: null as number | null },
};
export const KIT_INITIAL = { ...KIT_WORDS, ...initialValues(KIT_PARAMETERS) };

export const PAD_INITIAL = { role: '', busId: null, ...initialValues(PAD_PARAMETERS) };
export const LAYER_INITIAL = { withHitId: null, ...initialValues(LAYER_PARAMETERS) };

/** Most buses of a kit besides its room and its echo. */
export const MOST_BUSES = ROOM_BUS - 1;

/** What comes into a bus: pads that name it, or what all pads send to the kit's room or its echo. */
export const BUS_KINDS = ['bus', 'room', 'echo'] as const;
export type BusKind = (typeof BUS_KINDS)[number];

export const BUS_PARAMETERS = {
  levelDb: number({ label: 'Level', ...LEVEL }),
  muted: toggle('Sounds', ['heard', 'muted'], false, 'muting'),
} as const;
