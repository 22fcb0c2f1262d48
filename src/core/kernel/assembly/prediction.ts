// Linear prediction as core/onset/lpc.ts has it.

import { total } from './functions';

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

/**
 * Coefficients of prediction from autocorrelations `r` at lags 0 to `order`, by Levinson's and Durbin's recursion; `work` holds as
 * many doubles as there are coefficients.
 */
export function levinson(r: usize, order: i32, a: usize, work: usize): void {
  memory.fill(a, 0, 8 * order);
  let error = load<f64>(r);
  for (let i = 0; i < order; i++) {
    let sum = load<f64>(r + 8 * (i + 1));
    for (let k = 0; k < i; k++) sum -= load<f64>(a + 8 * k) * load<f64>(r + 8 * (i - k));
    const reflection = sum / error;
    memory.copy(work, a, 8 * order);
    store<f64>(a + 8 * i, reflection);
    for (let k = 0; k < i; k++)
      store<f64>(a + 8 * k, load<f64>(work + 8 * k) - reflection * load<f64>(work + 8 * (i - 1 - k)));
    error *= 1 - reflection * reflection;
    if (error <= 0) break;
  }
}

/** Of every so many places the likelihood is worked out first, then place by place about the best of them. */
const COARSE = 6;
/** Power below which nothing is told apart: -110 dBFS, under the noise of 16-bit audio. */
const TINY: f64 = 1e-11;

/**
 * The place in [from, to) before and after which powers differ most surely, `energy` holding running sums of `length` values with a
 * nought before them; `from` where nothing rises.
 */
export function likeliestChange(energy: usize, length: i32, from: i32, to: i32, before: i32, after: i32): i32 {
  let best = from;
  let most = -Infinity;
  for (let k = from; k < to; k += COARSE) {
    const score = likelihood(energy, length, k, before, after);
    if (score > most) {
      most = score;
      best = k;
    }
  }
  const centre = best;
  for (let k = max<i32>(from, centre - COARSE + 1); k < min<i32>(to, centre + COARSE); k++) {
    const score = likelihood(energy, length, k, before, after);
    if (score > most) {
      most = score;
      best = k;
    }
  }
  return best;
}

/** Logarithm of how much better two variances, parted at `k`, explain the window about it than one does. */
function likelihood(energy: usize, length: i32, k: i32, before: i32, after: i32): f64 {
  const a = max<i32>(0, k - before);
  const b = min<i32>(length, k + after);
  const n1 = <f64>max<i32>(1, k - a);
  const n2 = <f64>(b - k);
  const here = load<f64>(energy + 8 * k);
  const s1 = here - load<f64>(energy + 8 * a);
  const s2 = load<f64>(energy + 8 * b) - here;
  const v1 = s1 / n1 + TINY;
  const v2 = s2 / n2 + TINY;
  if (!(v2 > v1)) return -Infinity;
  const v = (s1 + s2) / (n1 + n2) + TINY;
  return 0.5 * ((n1 + n2) * Math.log(v) - n1 * Math.log(v1) - n2 * Math.log(v2));
}

/** Sums of products of `length` floats with themselves `lag` earlier, for lags 0 to `order`, as doubles; within 1e-5 of the first. */
export function correlations(x: usize, length: i32, order: i32, out: usize): void {
  let lag = 0;
  // Four lags at a time, so that what they are multiplied with is loaded once.
  for (; lag + 3 <= order; lag += 4) {
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    let c = f32x4.splat(0);
    let d = f32x4.splat(0);
    const back = <usize>(4 * lag);
    // From the furthest of the four on; what lies before it is added one by one.
    let i = lag + 3;
    for (; i + 4 <= length; i += 4) {
      const at = x + 4 * i;
      const here = v128.load(at);
      const then = at - back;
      a = f32x4.add(a, f32x4.mul(here, v128.load(then)));
      b = f32x4.add(b, f32x4.mul(here, v128.load(then - 4)));
      c = f32x4.add(c, f32x4.mul(here, v128.load(then - 8)));
      d = f32x4.add(d, f32x4.mul(here, v128.load(then - 12)));
    }
    store<f64>(out + 8 * lag, <f64>total(a) + products(x, lag, lag + 3, lag) + products(x, i, length, lag));
    store<f64>(
      out + 8 * (lag + 1),
      <f64>total(b) + products(x, lag + 1, lag + 3, lag + 1) + products(x, i, length, lag + 1),
    );
    store<f64>(
      out + 8 * (lag + 2),
      <f64>total(c) + products(x, lag + 2, lag + 3, lag + 2) + products(x, i, length, lag + 2),
    );
    store<f64>(out + 8 * (lag + 3), <f64>total(d) + products(x, i, length, lag + 3));
  }
  for (; lag <= order; lag++) store<f64>(out + 8 * lag, products(x, lag, length, lag));
}

/** Sum of products of the floats [from, to) with those `lag` earlier. */
function products(x: usize, from: i32, to: i32, lag: i32): f64 {
  let sum: f64 = 0;
  for (let i = from; i < to; i++) sum += <f64>load<f32>(x + 4 * i) * <f64>load<f32>(x + 4 * (i - lag));
  return sum;
}
