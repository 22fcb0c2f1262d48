// Half-band filters of two branches of all-pass sections, for the saturation that runs live.

/** A section of a branch: doubles of both channels that came in and went out last, at `state`. */
function section(x: v128, coefficient: v128, state: usize): v128 {
  const before = v128.load(state);
  const y = f64x2.add(f64x2.mul(f64x2.sub(x, v128.load(state, 16)), coefficient), before);
  v128.store(state, x);
  v128.store(state, y, 16);
  return y;
}

/**
 * Twice as many frames of two channels, left and right by turns as doubles. `sections` coefficients belong to both branches
 * by turns; `state` holds four doubles for each.
 */
export function raisePair(x: usize, count: i32, coefficients: usize, sections: i32, state: usize, out: usize): void {
  for (let n = 0; n < count; n++) {
    const value = v128.load(x + 16 * n);
    let even = value;
    let odd = value;
    let at = state;
    let s = 0;
    for (; s + 1 < sections; s += 2, at += 64) {
      even = section(even, v128.load64_splat(coefficients + 8 * s), at);
      odd = section(odd, v128.load64_splat(coefficients + 8 * s + 8), at + 32);
    }
    if (s < sections) even = section(even, v128.load64_splat(coefficients + 8 * s), at);
    v128.store(out + 32 * n, even);
    v128.store(out + 32 * n + 16, odd);
  }
}

/** Half as many frames: the mean of both branches, of `2 * count` frames of `x`. */
export function lowerPair(x: usize, count: i32, coefficients: usize, sections: i32, state: usize, out: usize): void {
  const half = f64x2.splat(0.5);
  for (let n = 0; n < count; n++) {
    let even = v128.load(x + 32 * n + 16);
    let odd = v128.load(x + 32 * n);
    let at = state;
    let s = 0;
    for (; s + 1 < sections; s += 2, at += 64) {
      even = section(even, v128.load64_splat(coefficients + 8 * s), at);
      odd = section(odd, v128.load64_splat(coefficients + 8 * s + 8), at + 32);
    }
    if (s < sections) even = section(even, v128.load64_splat(coefficients + 8 * s), at);
    v128.store(out + 16 * n, f64x2.mul(half, f64x2.add(even, odd)));
  }
}
