// Half-band filters: to twice a sample rate, and back.

/**
 * Twice as many doubles: those of `x` and, between them, sums of what lies around by `count` taps, the first the nearest. `length` is a
 * multiple of four; `count` values before `x` and `count` after its end are read.
 */
export function doubleRate(x: usize, length: i32, taps: usize, count: i32, out: usize): void {
  for (let n = 0; n < length; n += 4) {
    const at = x + 8 * n;
    // Two sums at once: each waits for its own last addition only.
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    let before = at;
    let after = at + 8;
    for (let k = 0; k < count; k++) {
      const tap = v128.load64_splat(taps + 8 * k);
      a = f64x2.add(a, f64x2.mul(tap, f64x2.add(v128.load(before), v128.load(after))));
      b = f64x2.add(b, f64x2.mul(tap, f64x2.add(v128.load(before + 16), v128.load(after + 16))));
      before -= 8;
      after += 8;
    }
    const here = v128.load(at);
    const next = v128.load(at + 16);
    const to = out + 16 * n;
    v128.store(to, v128.shuffle<f64>(here, a, 0, 2));
    v128.store(to + 16, v128.shuffle<f64>(here, a, 1, 3));
    v128.store(to + 32, v128.shuffle<f64>(next, b, 0, 2));
    v128.store(to + 48, v128.shuffle<f64>(next, b, 1, 3));
  }
}

/**
 * Half as many doubles: of every second value of `x` and what lies around it the mean. `length` of them, a multiple of four. `odd` has
 * room for `length` values with `count + 1` zeros before and `count + 4` after.
 */
export function halveRate(x: usize, length: i32, taps: usize, count: i32, odd: usize, out: usize): void {
  for (let n = 0; n < length; n += 2) {
    const at = x + 16 * n;
    v128.store(odd + 8 * n, v128.shuffle<f64>(v128.load(at), v128.load(at + 16), 1, 3));
  }
  const half = f64x2.splat(0.5);
  for (let n = 0; n < length; n += 4) {
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    let before = odd + 8 * n - 8;
    let after = before + 8;
    for (let k = 0; k < count; k++) {
      const tap = v128.load64_splat(taps + 8 * k);
      a = f64x2.add(a, f64x2.mul(tap, f64x2.add(v128.load(before), v128.load(after))));
      b = f64x2.add(b, f64x2.mul(tap, f64x2.add(v128.load(before + 16), v128.load(after + 16))));
      before -= 8;
      after += 8;
    }
    const at = x + 16 * n;
    const even = v128.shuffle<f64>(v128.load(at), v128.load(at + 16), 0, 2);
    const next = v128.shuffle<f64>(v128.load(at + 32), v128.load(at + 48), 0, 2);
    v128.store(out + 8 * n, f64x2.mul(half, f64x2.add(even, a)));
    v128.store(out + 8 * n + 16, f64x2.mul(half, f64x2.add(next, b)));
  }
}

/**
 * Peaks of an oversampled signal: for each of `length` frames, which lie `factor` doubles apart from `x` on, the largest absolute
 * value at most `reach` doubles away, written to `out` as a float.
 */
export function peaksAround(x: usize, length: i32, factor: i32, reach: i32, out: usize): void {
  for (let n = 0; n < length; n++) {
    const middle = x + 8 * n * factor;
    let peak: f64 = 0;
    for (let at = middle - 8 * reach; at <= middle + 8 * reach; at += 8) peak = max(peak, abs(load<f64>(at)));
    store<f32>(out + 4 * n, f32(peak));
  }
}

/** The largest absolute value of `length` doubles. */
export function peakOfDoubles(x: usize, length: i32): f64 {
  let peak: f64 = 0;
  for (let n = 0; n < length; n++) peak = max(peak, abs(load<f64>(x + 8 * n)));
  return peak;
}
