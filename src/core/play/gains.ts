/**
 * Equal-power pan scaled to unity in the centre: cos and sin of the pan angle times the square root of two. `pan` runs
 * from -1 (left) to 1 (right); the centre is exactly 1 on both sides, so that an untouched pad is bit-exact.
 */
export function panGains(pan: number): { left: number; right: number } {
  return { left: panLeft(pan), right: panRight(pan) };
}

/** The left gain of `panGains`. */
export function panLeft(pan: number): number {
  if (pan === 0) return 1;
  return pan >= 1 ? 0 : Math.SQRT2 * Math.cos(((pan + 1) * Math.PI) / 4);
}

/** The right gain of `panGains`. */
export function panRight(pan: number): number {
  if (pan === 0) return 1;
  return pan <= -1 ? 0 : Math.SQRT2 * Math.sin(((pan + 1) * Math.PI) / 4);
}

/** Range of level at which the curve of velocity is whole: its value at 1. */
export const FULL_VELOCITY_DB = 40 * Math.log10(127);

/**
 * Gain of a strike of 1..127 over a range of level in dB: 40 log10(velocity / 127) dB at the full range, as the default
 * modulator of the "SoundFont technical specification" 2.04, section 8.4.1, has it (960 cB concave, which is that curve),
 * and that share of it at a smaller one. Exactly 1 at 127, and over no range.
 */
export function velocityGain(velocity: number, rangeDb = FULL_VELOCITY_DB): number {
  return (Math.max(0, Math.min(127, velocity)) / 127) ** velocityPower(rangeDb);
}

/** The velocity, 1 to 127 with fractions, of a strike so many dB under the hardest: the inverse of that; 127 without a range. */
export function velocityUnder(db: number, rangeDb: number): number {
  if (rangeDb === 0) return 127;
  return Math.min(127, Math.max(1, 127 * 10 ** ((-db * FULL_VELOCITY_DB) / (40 * rangeDb))));
}

/** The exponent of that curve: 2 at the full range. */
export function velocityPower(rangeDb: number): number {
  return (2 * rangeDb) / FULL_VELOCITY_DB;
}
