import { choice, list, type NumberParameter, number, optional } from '../parameter/parameter';
import { prefixed } from '../parameter/prefixed';
import { MAX_MOVES } from '../play/limits';
import { CONTROLLERS, SOURCE_NAMES, type SourceName, TARGET_NAMES, type TargetName } from '../play/moves';
import { FORM_NAMES } from '../play/oscillator';
import { PERIODS } from '../signal/periods';

/** The envelopes of a pad. */
export const ENVELOPES = ['level', 'filter', 'pitch'] as const;
export type EnvelopeName = (typeof ENVELOPES)[number];
/** The low-frequency oscillators of a pad. */
export const OSCILLATORS = ['lfo1', 'lfo2'] as const;
export type OscillatorName = (typeof OSCILLATORS)[number];

const TIME = { unit: 'ms', low: 0, step: 1, fine: 0.1, scale: 'log' } as const;
const MINUTE_MS = 60_000;

/** The stages of an envelope; one that is absent is passed over. */
export const STAGES = {
  attackMs: optional({ label: 'Attack', ...TIME, high: MINUTE_MS, none: { label: 'none', first: 10 } }),
  holdMs: optional({ label: 'Hold', ...TIME, high: MINUTE_MS, none: { label: 'none', first: 40 } }),
  decayMs: optional({ label: 'Decay', ...TIME, high: MINUTE_MS, none: { label: 'none', first: 200 } }),
  /** Level at which the decay ends and stays; without one it ends in silence. */
  sustain: optional({
    label: 'Sustain',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.01,
    fine: 0.001,
    times: 100,
    none: { label: 'none', first: 0.5 },
  }),
  /** From letting go to nothing. */
  releaseMs: number({ label: 'Let go', ...TIME, high: MINUTE_MS, initial: 50, said: 'letting go' }),
} as const;
export type StageName = keyof typeof STAGES;

const OF: Readonly<Record<EnvelopeName, string>> = {
  level: 'the level envelope',
  filter: 'the filter envelope',
  pitch: 'the pitch envelope',
};

export const ENVELOPE_PARAMETERS = {
  ...prefixed('level', OF.level, STAGES),
  ...prefixed('filter', OF.filter, STAGES),
  ...prefixed('pitch', OF.pitch, STAGES),
  /** What the envelopes add at their highest point. */
  filterOctaves: number({
    label: 'Amount',
    unit: 'oct',
    low: -8,
    high: 8,
    step: 0.1,
    fine: 0.01,
    digits: 2,
    initial: 0,
    bipolar: true,
    said: 'amount of the filter envelope',
  }),
  pitchSemitones: number({
    label: 'Amount',
    unit: 'st',
    low: -48,
    high: 48,
    step: 1,
    fine: 0.01,
    digits: 2,
    initial: 0,
    bipolar: true,
    said: 'amount of the pitch envelope',
  }),
} as const;

const OSCILLATOR = {
  form: choice(
    'Form',
    FORM_NAMES.map((form) => [form, form] as const),
    'sine',
  ),
  /** 0 by its rate in hertz, else a note value of the kit's tempo. */
  period: choice('Period', [['hz', 'in hertz'], ...PERIODS.map(([, label]) => [label, label] as const)], 'hz'),
  rateHz: number({
    label: 'Rate',
    unit: 'Hz',
    low: 0.01,
    high: 50,
    step: 0.1,
    fine: 0.01,
    digits: 2,
    initial: 2,
    scale: 'log',
  }),
  strength: number({ label: 'Strength', unit: '%', low: 0, high: 1, step: 0.01, digits: 0, times: 100, initial: 1 }),
  /** Begins anew with each stroke, or runs on beneath them. */
  runs: choice(
    'Runs',
    [
      ['stroke', 'with each stroke'],
      ['free', 'freely'],
    ],
    'stroke',
    'start',
  ),
} as const;

export const OSCILLATOR_PARAMETERS = {
  ...prefixed('lfo1', 'LFO 1', OSCILLATOR),
  ...prefixed('lfo2', 'LFO 2', OSCILLATOR),
} as const;
export type OscillatorKey = keyof typeof OSCILLATOR;
export const OSCILLATOR_KEYS = Object.keys(OSCILLATOR) as OscillatorKey[];

/** Names of what can move a pad's sound. */
export const SOURCES: Readonly<Record<SourceName, string>> = {
  velocity: 'velocity',
  note: 'note',
  drift: 'drift',
  chance: 'chance',
  levelEnvelope: 'level envelope',
  filterEnvelope: 'filter envelope',
  pitchEnvelope: 'pitch envelope',
  lfo1: 'LFO 1',
  lfo2: 'LFO 2',
  pressure: 'pressure',
  wheel: `wheel (CC ${CONTROLLERS.wheel})`,
  breath: `breath (CC ${CONTROLLERS.breath})`,
  foot: `foot (CC ${CONTROLLERS.foot})`,
  expression: `expression (CC ${CONTROLLERS.expression})`,
  brightness: `brightness (CC ${CONTROLLERS.brightness})`,
};

function depth(label: string, unit: string, most: number, step: number, digits: number, times = 1) {
  return number({
    label,
    unit,
    low: -most,
    high: most,
    step,
    fine: step / 10,
    digits,
    times,
    initial: 0,
    bipolar: true,
  });
}

/** What can be moved, each with the depth by which a source at 1 moves it. */
export const TARGETS = {
  level: depth('Level', 'dB', 60, 0.5, 1),
  pan: depth('Pan', '%', 2, 0.05, 0, 100),
  width: depth('Width', '%', 2, 0.05, 0, 100),
  tune: depth('Tune', 'cents', 4800, 1, 1),
  cutoff: depth('Cutoff', 'oct', 10, 0.1, 2),
  resonance: depth('Resonance', 'oct', 6, 0.1, 2),
  start: depth('Start offset', 'ms', 1000, 1, 1),
  attack: depth('Attack', 'oct', 8, 0.1, 2),
  decay: depth('Decay', 'oct', 8, 0.1, 2),
  release: depth('Let go', 'oct', 8, 0.1, 2),
  lfo1Rate: depth('LFO 1 rate', 'oct', 6, 0.1, 2),
  lfo1Strength: depth('LFO 1 strength', '%', 1, 0.01, 0, 100),
  lfo2Rate: depth('LFO 2 rate', 'oct', 6, 0.1, 2),
  lfo2Strength: depth('LFO 2 strength', '%', 1, 0.01, 0, 100),
} as const satisfies Record<TargetName, NumberParameter>;

/** A source that moves a target; the depth is in the target's unit. */
export const MOVE = {
  source: choice(
    'Source',
    SOURCE_NAMES.map((name) => [name, SOURCES[name]] as const),
    'velocity',
  ),
  target: choice(
    'Target',
    TARGET_NAMES.map((name) => [name, TARGETS[name].label] as const),
    'cutoff',
  ),
  depth: number({ label: 'Depth', unit: '', low: -4800, high: 4800, step: 0.1, digits: 2, initial: 0, bipolar: true }),
} as const;

export const MOVES = list('What moves it', MOVE, MAX_MOVES);
