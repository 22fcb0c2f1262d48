// A state-variable filter, for the voices of the engine.

/** Doubles of a filter's state: two integrators of two channels for each of two sections, then g and the two k. */
const G: usize = 64;

/**
 * Filters `count` frames, left and right by turns as floats, in place. One or two sections in a row, integrated by the
 * trapezoidal rule (V. Zavalishin, "The art of VA filter design", 2012, chapter 4): `state` holds both integrators of each
 * channel and section, then g = tan(pi f / rate) and each section's k = 1 / Q, which change by `dg`, `dk1` and `dk2` a frame.
 * The output is m0 of the input, m1 of the band and m2 of the low signal.
 */
export function stateVariable(
  frames: usize,
  count: i32,
  state: usize,
  dg: f64,
  dk1: f64,
  dk2: f64,
  m0: f64,
  m1: f64,
  m2: f64,
  sections: i32,
): void {
  let a = v128.load(state);
  let b = v128.load(state, 16);
  let c = v128.load(state, 32);
  let d = v128.load(state, 48);
  let g = load<f64>(state, G);
  let k1 = load<f64>(state, G + 8);
  let k2 = load<f64>(state, G + 16);
  const two = f64x2.splat(2);
  const moves = dg !== 0 || dk1 !== 0 || dk2 !== 0;
  let wide = f64x2.splat(g);
  let one = f64x2.splat(1 / (1 + g * (g + k1)));
  let oneB = f64x2.splat(1 / (1 + g * (g + k2)));
  let byBand = f64x2.splat(m1 * k1);
  let byBandB = f64x2.splat(m1 * k2);
  const end = frames + ((<usize>count) << 3);
  for (let at = frames; at < end; at += 8) {
    let x = f64x2.promote_low_f32x4(v128.load64_zero(at));
    const band = f64x2.mul(one, f64x2.add(a, f64x2.mul(wide, f64x2.sub(x, b))));
    const low = f64x2.add(b, f64x2.mul(wide, band));
    a = f64x2.sub(f64x2.mul(two, band), a);
    b = f64x2.sub(f64x2.mul(two, low), b);
    x = f64x2.add(f64x2.mul(f64x2.splat(m0), x), f64x2.add(f64x2.mul(byBand, band), f64x2.mul(f64x2.splat(m2), low)));
    if (sections > 1) {
      const bandB = f64x2.mul(oneB, f64x2.add(c, f64x2.mul(wide, f64x2.sub(x, d))));
      const lowB = f64x2.add(d, f64x2.mul(wide, bandB));
      c = f64x2.sub(f64x2.mul(two, bandB), c);
      d = f64x2.sub(f64x2.mul(two, lowB), d);
      x = f64x2.add(
        f64x2.mul(f64x2.splat(m0), x),
        f64x2.add(f64x2.mul(byBandB, bandB), f64x2.mul(f64x2.splat(m2), lowB)),
      );
    }
    store<f64>(at, f64x2.extract_lane(f32x4.demote_f64x2_zero(x), 0));
    if (moves) {
      g += dg;
      k1 += dk1;
      k2 += dk2;
      wide = f64x2.splat(g);
      one = f64x2.splat(1 / (1 + g * (g + k1)));
      oneB = f64x2.splat(1 / (1 + g * (g + k2)));
      byBand = f64x2.splat(m1 * k1);
      byBandB = f64x2.splat(m1 * k2);
    }
  }
  v128.store(state, a);
  v128.store(state, b, 16);
  v128.store(state, c, 32);
  v128.store(state, d, 48);
  store<f64>(state, g, G);
  store<f64>(state, k1, G + 8);
  store<f64>(state, k2, G + 16);
}
