// Linear prediction as core/onset/lpc.ts has it.

/** Writes `length` floats as doubles. */
export function widen(from: usize, length: i32, to: usize): void {
  let i = 0;
  for (; i + 2 <= length; i += 2) v128.store(to + 8 * i, f64x2.promote_low_f32x4(v128.load64_zero(from + 4 * i)));
  for (; i < length; i++) store<f64>(to + 8 * i, load<f32>(from + 4 * i));
}

/** Sums of products of `length` doubles with themselves `lag` earlier, for lags 0 to `order`. */
export function autocorrelation(x: usize, length: i32, order: i32, out: usize): void {
  for (let lag = 0; lag <= order; lag++) {
    let sums = f64x2.splat(0);
    let i = lag;
    for (; i + 2 <= length; i += 2)
      sums = f64x2.add(sums, f64x2.mul(v128.load(x + 8 * i), v128.load(x + 8 * (i - lag))));
    let sum = f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
    for (; i < length; i++) sum += load<f64>(x + 8 * i) * load<f64>(x + 8 * (i - lag));
    store<f64>(out + 8 * lag, sum);
  }
}

/** Prediction errors of `length` doubles that stand `order` places into `x`; `a[k]` weighs what lies `k + 1` earlier. */
export function residual(x: usize, length: i32, a: usize, order: i32, out: usize): void {
  let n = 0;
  for (; n + 4 <= length; n += 4) {
    const at = x + 8 * (order + n);
    let low = v128.load(at);
    let high = v128.load(at + 16);
    for (let k = 0; k < order; k++) {
      const w = f64x2.splat(load<f64>(a + 8 * k));
      const from = at - 8 * (k + 1);
      low = f64x2.sub(low, f64x2.mul(w, v128.load(from)));
      high = f64x2.sub(high, f64x2.mul(w, v128.load(from + 16)));
    }
    v128.store(out + 8 * n, low);
    v128.store(out + 8 * n + 16, high);
  }
  for (; n < length; n++) {
    let error = load<f64>(x + 8 * (order + n));
    for (let k = 0; k < order; k++) error -= load<f64>(a + 8 * k) * load<f64>(x + 8 * (order + n - k - 1));
    store<f64>(out + 8 * n, error);
  }
}

/** Running sums of the squares of `length` doubles, with a nought before them. */
export function energies(x: usize, length: i32, out: usize): void {
  let sum: f64 = 0;
  store<f64>(out, 0);
  for (let i = 0; i < length; i++) {
    const value = load<f64>(x + 8 * i);
    sum += value * value;
    store<f64>(out + 8 * (i + 1), sum);
  }
}
