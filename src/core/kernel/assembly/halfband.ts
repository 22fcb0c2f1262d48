// Half-band filters: to twice a sample rate, and back.

/**
 * Twice as many doubles: those of `x` and, between them, sums of what lies around by `count` taps, the first the nearest. `length` is a
 * multiple of four; `count` values before `x` and `count` after its end are read.
 */
export function doubleRate(x: usize, length: i32, taps: usize, count: i32, out: usize): void {
  for (let n = 0; n < length; n += 4) {
    const at = x + 8 * n;
    const a = sumsAt(at, taps, count);
    const b = sumsAt(at + 16, taps, count);
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
  for (let n = 0; n < length; n += 2) {
    const at = x + 16 * n;
    const even = v128.shuffle<f64>(v128.load(at), v128.load(at + 16), 0, 2);
    v128.store(out + 8 * n, f64x2.mul(half, f64x2.add(even, sumsAt(odd + 8 * n - 8, taps, count))));
  }
}

/** The sums after two neighbouring values. */
function sumsAt(at: usize, taps: usize, count: i32): v128 {
  let sum = f64x2.splat(0);
  for (let k = 0; k < count; k++) {
    const tap = v128.load64_splat(taps + 8 * k);
    sum = f64x2.add(sum, f64x2.mul(tap, f64x2.add(v128.load(at - 8 * k), v128.load(at + 8 * (k + 1)))));
  }
  return sum;
}
