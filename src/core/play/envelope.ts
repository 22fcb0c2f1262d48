/**
 * Envelopes of the engine, as values at a number of frames after the stroke. The attack rises in a line, decay and release
 * fall exponentially and end on their very frame: (exp(-5 x) - exp(-5)) / (1 - exp(-5)) for x from 0 to 1, as a charged
 * capacitor that is switched off once 43 dB are gone.
 */
const BEND = 5;
const REST = Math.exp(-BEND);

/** How much is left of a fall at a share `x` of its time: 1 at 0, 0 from 1 on. */
export function fallen(x: number): number {
  return x >= 1 ? 0 : (Math.exp(-BEND * x) - REST) / (1 - REST);
}

/** Indices of an envelope's stages, in frames but for the level it comes down to, and of the frames since the stroke. */
export const STAGE = { attack: 0, hold: 1, decay: 2, sustain: 3, age: 4 } as const;
export const STAGE_FLOATS = 5;

/**
 * Writes the value, 0 to 1, of an envelope at its age; without a decay (-1) it stays at its height. Numbers go by arrays
 * because those passed and returned may be allocated.
 */
export function readEnvelope(stages: Float64Array, into: Float64Array, at: number): void {
  const attack = stages[STAGE.attack] as number;
  const decay = stages[STAGE.decay] as number;
  const sustain = stages[STAGE.sustain] as number;
  const age = stages[STAGE.age] as number;
  const since = age - attack - (stages[STAGE.hold] as number);
  if (age < attack) into[at] = age / attack;
  else if (decay < 0 || since <= 0) into[at] = 1;
  else into[at] = since >= decay ? sustain : sustain + (1 - sustain) * fallen(since / decay);
}
