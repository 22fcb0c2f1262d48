import { STEPS_FLOATS, type StepSound, writeSteps } from '../live/figures';
import { MAX_CUTS, MAX_LAYERS, MAX_MOVES } from './limits';

/** Slots of an envelope: times in engine frames, -1 for a decay that is not there. */
export const STAGE_SLOTS = ['Attack', 'Hold', 'Decay', 'Sustain', 'Release'] as const;
/** Slots of an oscillator: index of its form, frames of a period, 0 to 1, and whether it runs freely. */
export const OSCILLATOR_SLOTS = ['Form', 'Period', 'Strength', 'Free'] as const;
/** Slots of what moves a sound: indices of source and target, and the depth in the target's unit. */
const MOVE_SLOTS = ['Source', 'Target', 'Depth'] as const;

function named<N extends string, S extends string>(name: N, slots: readonly S[]): readonly `${N}${S}`[] {
  return slots.map((slot) => `${name}${slot}` as const);
}

/** How a pad plays, in the order of the engine's indices. */
export const MODE_NAMES = ['one-shot', 'held', 'looped', 'switched'] as const;
/** Kinds of filter, likewise. */
export const FILTER_NAMES = ['off', 'low', 'high', 'band', 'notch'] as const;
/** Orders in which takes come, likewise. */
export const TAKE_ORDER_NAMES = ['in order', 'at random'] as const;

/** Slots shared by all layers of a pad; see `PadSound`. */
export const PAD_SLOTS = [
  'gain',
  'pan',
  'width',
  'mode',
  'chokeGroup',
  'chokeFrames',
  'voices',
  'takeOrder',
  'fadeInFrames',
  'fadeOutFrames',
  'bus',
  'roomSend',
  'echoSend',
  'note',
  'velocityPower',
  'driftCents',
  'driftDb',
  'filter',
  'sections',
  'cutoffHz',
  'resonance',
  'filterOctaves',
  'pitchSemitones',
  'bySlices',
  'stretch',
  'loopFrames',
  ...named('level', STAGE_SLOTS),
  ...named('filter', STAGE_SLOTS),
  ...named('pitch', STAGE_SLOTS),
  ...named('lfo1', OSCILLATOR_SLOTS),
  ...named('lfo2', OSCILLATOR_SLOTS),
  'moveCount',
  'layerCount',
  'cutCount',
] as const;

/** Slots of each layer; see `LayerSound`. */
export const LAYER_SLOTS = [
  'left',
  'right',
  'start',
  'end',
  'reversed',
  'loopStart',
  'loopEnd',
  'seam',
  'ratio',
  'gain',
  'panLeft',
  'panRight',
  'delay',
  'lowVelocity',
  'highVelocity',
  'take',
  'underTake',
  'rate',
] as const;

export type PadSlot = (typeof PAD_SLOTS)[number];
export type LayerSlot = (typeof LAYER_SLOTS)[number];

/**
 * One layer: a stretch of sample memory and its rate. Offsets count floats in the memory, positions frames; a loop that
 * ends at 0 is none. `rate` is the sound's own sample rate over the engine's. `take` is 1 for one of the takes, of which a stroke plays one; `underTake` is the layer that must be
 * that one, or -1.
 */
export type LayerSound = { readonly [S in LayerSlot]: number };

/** Something that moves the sound; see `SOURCES` and `TARGETS`, of which these are indices. */
export interface MoveSound {
  readonly source: number;
  readonly target: number;
  readonly depth: number;
}

type Counted = 'layerCount' | 'moveCount' | 'cutCount';

/**
 * What the engine needs to strike a pad, a value for each slot; levels are linear, times in engine frames; `mode`,
 * `takeOrder` and `filter` are indices. A loop played by its slices lasts `loopFrames`, its slices `stretch` times as far apart.
 */
export type PadSound = { readonly [S in Exclude<PadSlot, Counted>]: number } & {
  readonly layers: readonly LayerSound[];
  readonly moves: readonly MoveSound[];
  /** What all its strokes go through together. */
  readonly steps: readonly StepSound[];
  /** Where its slices begin, in engine frames at its own speed, the first at 0; played one after another with `bySlices`. */
  readonly cuts: readonly number[];
};

const FIRST_MOVE = PAD_SLOTS.length;
const FIRST_LAYER = FIRST_MOVE + MAX_MOVES * MOVE_SLOTS.length;
/** Where the steps begin in a program. */
export const STEPS_AT = FIRST_LAYER + MAX_LAYERS * LAYER_SLOTS.length;
/**
 * A pad's program is one flat array: its own slots, then what moves it, then the slots of each layer it may have, then its
 * steps, then where its slices begin.
 */
export const PROGRAM_FLOATS = STEPS_AT + STEPS_FLOATS + MAX_CUTS;
/** Where the slices' beginnings begin in it. */
export const CUTS_AT = STEPS_AT + STEPS_FLOATS;

type Places<S extends string> = { readonly [K in S]: number };

function placesOf<S extends string>(slots: readonly S[]): Places<S> {
  return Object.fromEntries(slots.map((slot, i) => [slot, i])) as Places<S>;
}

/** Indices of the slots in a program, and in a layer's part of it. */
export const PAD = placesOf(PAD_SLOTS);
export const LAYER = placesOf(LAYER_SLOTS);
/** How many of a program's floats a move has: source, target and depth. */
export const MOVE_FLOATS = MOVE_SLOTS.length;

/** Where a layer's slots begin in a program. */
export function layerAt(layer: number): number {
  return FIRST_LAYER + layer * LAYER_SLOTS.length;
}

/** Where the moves begin in a program. */
export const MOVES_AT = FIRST_MOVE;

/** What one layer is played by: the program without its other layers. */
export const OWN_FLOATS = FIRST_LAYER + LAYER_SLOTS.length;
/** Where the layer's slots begin in that. */
export const OWN_LAYER = FIRST_LAYER;

/** Copies what one layer is played by out of the program that begins at float `at`. Allocates nothing. */
export function takeOwn(programs: Float64Array, at: number, layer: number, own: Float64Array): void {
  for (let i = 0; i < FIRST_LAYER; i++) own[i] = programs[at + i] as number;
  const from = at + layerAt(layer);
  for (let i = 0; i < LAYER_SLOTS.length; i++) own[FIRST_LAYER + i] = programs[from + i] as number;
}

/** Writes a pad's sound as a program from float `at` on. Throws a RangeError for more layers, moves or steps than a pad may have. */
export function writeProgram(sound: PadSound, into: Float64Array, at = 0): void {
  const { layers, moves, steps, cuts } = sound;
  if (layers.length > MAX_LAYERS) throw new RangeError(`A pad has up to ${MAX_LAYERS} layers; got ${layers.length}.`);
  if (moves.length > MAX_MOVES) throw new RangeError(`Up to ${MAX_MOVES} things move a pad; got ${moves.length}.`);
  if (cuts.length > MAX_CUTS) throw new RangeError(`A loop has up to ${MAX_CUTS} slices; got ${cuts.length}.`);
  const counted = { ...sound, layerCount: layers.length, moveCount: moves.length, cutCount: cuts.length };
  for (const slot of PAD_SLOTS) into[at + PAD[slot]] = counted[slot];
  for (const [i, { source, target, depth }] of moves.entries())
    into.set([source, target, depth], at + MOVES_AT + i * MOVE_FLOATS);
  for (const [i, layer] of layers.entries())
    for (const slot of LAYER_SLOTS) into[at + layerAt(i) + LAYER[slot]] = layer[slot];
  writeSteps(steps, into, at + STEPS_AT);
  into.set(cuts, at + CUTS_AT);
}

/** A layer in the middle that sounds at once and with every stroke, to be spread and completed. */
export const PLAIN_LAYER = {
  reversed: 0,
  loopStart: 0,
  loopEnd: 0,
  seam: 0,
  ratio: 1,
  gain: 1,
  panLeft: 1,
  panRight: 1,
  delay: 0,
  lowVelocity: 1,
  highVelocity: 127,
  take: 0,
  underTake: -1,
  rate: 1,
} satisfies Partial<LayerSound>;

/** A silent pad that nothing moves, struck by the whole curve of velocity; to be spread and completed. */
export const SILENT: PadSound = {
  gain: 1,
  pan: 0,
  width: 1,
  mode: 0,
  chokeGroup: 0,
  chokeFrames: 192,
  voices: 0,
  takeOrder: 0,
  fadeInFrames: 0,
  fadeOutFrames: 0,
  bus: 0,
  roomSend: 0,
  echoSend: 0,
  note: 60,
  velocityPower: 2,
  driftCents: 0,
  driftDb: 0,
  filter: 0,
  sections: 1,
  cutoffHz: 20_000,
  resonance: Math.SQRT1_2,
  filterOctaves: 0,
  pitchSemitones: 0,
  bySlices: 0,
  stretch: 1,
  loopFrames: 0,
  ...stages('level'),
  ...stages('filter'),
  ...stages('pitch'),
  ...oscillator('lfo1'),
  ...oscillator('lfo2'),
  layers: [],
  moves: [],
  steps: [],
  cuts: [],
};

/** An envelope that stays at its height. */
function stages<N extends string>(name: N) {
  const values = { Attack: 0, Hold: 0, Decay: -1, Sustain: 1, Release: 2400 };
  return Object.fromEntries(Object.entries(values).map(([slot, value]) => [`${name}${slot}`, value])) as {
    readonly [S in `${N}${(typeof STAGE_SLOTS)[number]}`]: number;
  };
}

function oscillator<N extends string>(name: N) {
  const values = { Form: 0, Period: 48_000, Strength: 1, Free: 0 };
  return Object.fromEntries(Object.entries(values).map(([slot, value]) => [`${name}${slot}`, value])) as {
    readonly [S in `${N}${(typeof OSCILLATOR_SLOTS)[number]}`]: number;
  };
}
