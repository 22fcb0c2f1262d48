import { MAX_LAYERS } from './limits';

/** Slots shared by all layers of a pad; see `PadSound`. */
export const PAD_SLOTS = ['gainLeft', 'gainRight', 'held', 'chokeGroup', 'fadeOutFrames', 'bus', 'layerCount'] as const;
/** Slots of each layer; see `LayerSound`. */
export const LAYER_SLOTS = [
  'left',
  'right',
  'start',
  'end',
  'ratio',
  'gain',
  'panLeft',
  'panRight',
  'delay',
  'lowVelocity',
  'highVelocity',
] as const;

export type PadSlot = (typeof PAD_SLOTS)[number];
export type LayerSlot = (typeof LAYER_SLOTS)[number];

/** One layer: a stretch of sample memory and its rate. Offsets count floats in the memory, positions frames. */
export type LayerSound = { readonly [S in LayerSlot]: number };

/** What the engine needs to strike a pad, a value for each slot; levels are linear, times in engine frames. */
export type PadSound = { readonly [S in Exclude<PadSlot, 'layerCount'>]: number } & {
  readonly layers: readonly LayerSound[];
};

/** A pad's program is one flat array: its own slots, then those of each layer it may have. */
export const PROGRAM_FLOATS = PAD_SLOTS.length + MAX_LAYERS * LAYER_SLOTS.length;

type Places<S extends string> = { readonly [K in S]: number };

function placesOf<S extends string>(slots: readonly S[]): Places<S> {
  return Object.fromEntries(slots.map((slot, i) => [slot, i])) as Places<S>;
}

/** Indices of the slots in a program, and in a layer's part of it. */
export const PAD = placesOf(PAD_SLOTS);
export const LAYER = placesOf(LAYER_SLOTS);

/** Where a layer's slots begin in a program. */
export function layerAt(layer: number): number {
  return PAD_SLOTS.length + layer * LAYER_SLOTS.length;
}

/** Writes a pad's sound as a program from float `at` on. Throws a RangeError for more layers than a pad may have. */
export function writeProgram(sound: PadSound, into: Float64Array, at = 0): void {
  const { layers } = sound;
  if (layers.length > MAX_LAYERS) throw new RangeError(`A pad plays up to ${MAX_LAYERS} layers; got ${layers.length}.`);
  for (const slot of PAD_SLOTS) into[at + PAD[slot]] = slot === 'layerCount' ? layers.length : sound[slot];
  for (const [i, layer] of layers.entries())
    for (const slot of LAYER_SLOTS) into[at + layerAt(i) + LAYER[slot]] = layer[slot];
}

/** A layer in the middle that sounds at once and at every velocity, to be spread and completed. */
export const PLAIN_LAYER = {
  ratio: 1,
  gain: 1,
  panLeft: 1,
  panRight: 1,
  delay: 0,
  lowVelocity: 1,
  highVelocity: 127,
} satisfies Partial<LayerSound>;

/** A silent pad, to be spread and completed. */
export const SILENT: PadSound = {
  gainLeft: 1,
  gainRight: 1,
  held: 0,
  chokeGroup: 0,
  fadeOutFrames: 0,
  bus: 0,
  layers: [],
};
