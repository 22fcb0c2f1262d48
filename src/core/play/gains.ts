/**
 * Equal-power pan scaled to unity in the centre: cos and sin of the pan angle times the square root of two. `pan` runs
 * from -1 (left) to 1 (right); the centre is exactly 1 on both sides, so that an untouched pad is bit-exact.
 */
export function panGains(pan: number): { left: number; right: number } {
  if (pan === 0) return { left: 1, right: 1 };
  const angle = ((pan + 1) * Math.PI) / 4;
  return {
    left: pan >= 1 ? 0 : Math.SQRT2 * Math.cos(angle),
    right: pan <= -1 ? 0 : Math.SQRT2 * Math.sin(angle),
  };
}

/** Gain of a strike of 0..127: its square, as the SFZ format's default velocity curve has it; exactly 1 at 127. */
export function velocityGain(velocity: number): number {
  return (Math.max(0, Math.min(127, velocity)) / 127) ** 2;
}
