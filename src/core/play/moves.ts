/**
 * What can move a pad's sound, in the order of the engine's indices. Each goes from 0 to 1, or from -1 to 1: note (60 is
 * the middle), drift and oscillators.
 */
export const SOURCE_NAMES = [
  'velocity',
  'note',
  'drift',
  'chance',
  'levelEnvelope',
  'filterEnvelope',
  'pitchEnvelope',
  'lfo1',
  'lfo2',
  'pressure',
  'wheel',
  'breath',
  'foot',
  'expression',
  'brightness',
] as const;
export type SourceName = (typeof SOURCE_NAMES)[number];

/** What can be moved, in the order of the engine's indices. */
export const TARGET_NAMES = [
  'level',
  'pan',
  'width',
  'tune',
  'cutoff',
  'resonance',
  'start',
  'attack',
  'decay',
  'release',
  'lfo1Rate',
  'lfo1Strength',
  'lfo2Rate',
  'lfo2Strength',
] as const;
export type TargetName = (typeof TARGET_NAMES)[number];

/**
 * What a single stroke may be off its pad's program by, in the order of the engine's indices: level in dB, pan, tune in
 * cents, cutoff in octaves, and how much later in its sound it begins, in ms.
 */
export const OFFSET_NAMES = ['level', 'pan', 'tune', 'cutoff', 'start'] as const satisfies readonly TargetName[];
export type OffsetName = (typeof OFFSET_NAMES)[number];

type Places<S extends string> = { readonly [K in S]: number };

function placesOf<S extends string>(names: readonly S[]): Places<S> {
  return Object.fromEntries(names.map((name, i) => [name, i])) as Places<S>;
}

export const SOURCE = placesOf(SOURCE_NAMES);
export const TARGET = placesOf(TARGET_NAMES);
export const OFFSET = placesOf(OFFSET_NAMES);

/** Sources from here on change while a sound lasts; those before them are settled by its stroke. */
export const FIRST_CHANGING = SOURCE.levelEnvelope;

/** Controllers of MIDI 1.0 that are sources, by number (MIDI Association, "MIDI 1.0 control change messages"). */
export const CONTROLLERS = {
  wheel: 1,
  breath: 2,
  foot: 4,
  expression: 11,
  brightness: 74,
} as const satisfies Partial<Record<SourceName, number>>;
