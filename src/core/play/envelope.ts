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

/** The value, 0 to 1, `age` frames after the stroke; without a decay (-1) it stays at its height. */
export function envelopeAt(attack: number, hold: number, decay: number, sustain: number, age: number): number {
  if (age < attack) return age / attack;
  const since = age - attack - hold;
  if (decay < 0 || since <= 0) return 1;
  return since >= decay ? sustain : sustain + (1 - sustain) * fallen(since / decay);
}

/** The age at which the stage after `age` begins; Infinity after the last. */
export function nextStage(attack: number, hold: number, decay: number, age: number): number {
  if (age < attack) return attack;
  if (decay < 0) return Number.POSITIVE_INFINITY;
  if (age < attack + hold) return attack + hold;
  return age < attack + hold + decay ? attack + hold + decay : Number.POSITIVE_INFINITY;
}
