// The sums of half-band filters.

/**
 * `length` sums between the doubles at `x`: sum n weighs what lies around the place between values n and n + 1 by `count` taps, the
 * first the nearest. `count` values before `x` and one more after its end are read.
 */
export function betweenSums(x: usize, length: i32, taps: usize, count: i32, out: usize): void {
  for (let n = 0; n < length; n += 4) {
    const at = x + 8 * n;
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    for (let k = 0; k < count; k++) {
      const tap = v128.load64_splat(taps + 8 * k);
      const before = at - 8 * k;
      const after = at + 8 * (k + 1);
      a = f64x2.add(a, f64x2.mul(tap, f64x2.add(v128.load(before), v128.load(after))));
      b = f64x2.add(b, f64x2.mul(tap, f64x2.add(v128.load(before + 16), v128.load(after + 16))));
    }
    v128.store(out + 8 * n, a);
    v128.store(out + 8 * n + 16, b);
  }
}
