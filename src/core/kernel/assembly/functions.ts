// Functions of four numbers at a time.

/**
 * Logarithms (base 10) of four numbers from 1 up, within 1e-6: the exponent, and of the mantissa m in 0.7 to 1.4 the series of
 * 2 artanh((m - 1) / (m + 1)) (M. Abramowitz, I. Stegun, "Handbook of mathematical functions", 1964, 4.1.27).
 */
export function logarithms(x: v128): v128 {
  const bits = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const exponent = i32x4.shr_s(bits, 23);
  const mantissa = i32x4.sub(x, i32x4.shl(exponent, 23));
  const one = f32x4.splat(1);
  const s = f32x4.div(f32x4.sub(mantissa, one), f32x4.add(mantissa, one));
  const z = f32x4.mul(s, s);
  let series = f32x4.splat(0.2857142857);
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(0.4));
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(0.6666666667));
  series = f32x4.add(f32x4.mul(series, z), f32x4.splat(2));
  const natural = f32x4.mul(f32x4.mul(series, s), f32x4.splat(<f32>Math.LOG10E));
  return f32x4.add(natural, f32x4.mul(f32x4.convert_i32x4_s(exponent), f32x4.splat(0.3010299957)));
}

/**
 * Hyperbolic tangents of four numbers, within 1e-6: 1 - 2 / (1 + exp(2 x)), the exponential from its power of two and the series of
 * the rest (M. Abramowitz, I. Stegun, "Handbook of mathematical functions", 1964, 4.2.1 and 4.5.3).
 */
export function tangents(x: v128): v128 {
  const held = f32x4.max(f32x4.splat(-9), f32x4.min(f32x4.splat(9), x));
  const power = f32x4.mul(held, f32x4.splat(<f32>(2 * Math.LOG2E)));
  const whole = f32x4.nearest(power);
  const rest = f32x4.mul(f32x4.sub(power, whole), f32x4.splat(<f32>Math.LN2));
  const one = f32x4.splat(1);
  let series = f32x4.splat(1 / 720);
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 120));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 24));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(1 / 6));
  series = f32x4.add(f32x4.mul(series, rest), f32x4.splat(0.5));
  series = f32x4.add(f32x4.mul(series, rest), one);
  series = f32x4.add(f32x4.mul(series, rest), one);
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.sub(one, f32x4.div(f32x4.splat(2), f32x4.add(one, f32x4.mul(series, scale))));
}

export function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** The totals of four at once. */
export function totals(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.add(v128.shuffle<f32>(a, b, 0, 4, 1, 5), v128.shuffle<f32>(a, b, 2, 6, 3, 7));
  const cd = f32x4.add(v128.shuffle<f32>(c, d, 0, 4, 1, 5), v128.shuffle<f32>(c, d, 2, 6, 3, 7));
  return f32x4.add(v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
}
