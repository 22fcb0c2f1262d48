// What is done to every sample of a file.

import { total } from './functions';

/** Means of pairs of 16-bit samples as floats, full scale being 1; gives the greatest amount of any sample. */
export function foldPairs(from: usize, frames: i32, out: usize): i32 {
  let lowest = i16x8.splat(0);
  let highest = i16x8.splat(0);
  const scale = f32x4.splat(1 / 65536);
  let i = 0;
  for (; i + 4 <= frames; i += 4) {
    const pairs = v128.load(from + 4 * i);
    lowest = i16x8.min_s(lowest, pairs);
    highest = i16x8.max_s(highest, pairs);
    v128.store(out + 4 * i, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extadd_pairwise_i16x8_s(pairs)), scale));
  }
  let most = 0;
  for (let lane = 0; lane < 8; lane++) {
    most = max<i32>(most, -(<i32>i16x8.extract_lane_s(lowest, 0)));
    most = max<i32>(most, <i32>i16x8.extract_lane_s(highest, 0));
    lowest = v128.shuffle<i16>(lowest, lowest, 1, 2, 3, 4, 5, 6, 7, 0);
    highest = v128.shuffle<i16>(highest, highest, 1, 2, 3, 4, 5, 6, 7, 0);
  }
  for (; i < frames; i++) {
    const left = <i32>load<i16>(from + 4 * i);
    const right = <i32>load<i16>(from + 4 * i + 2);
    most = max<i32>(most, max<i32>(abs<i32>(left), abs<i32>(right)));
    store<f32>(out + 4 * i, <f32>(left + right) * (1 / 65536));
  }
  return most;
}

/** Sum of squares of the floats [from, to). */
function squares(samples: usize, from: i32, to: i32): f64 {
  let low = f64x2.splat(0);
  let high = f64x2.splat(0);
  let i = from;
  for (; i + 4 <= to; i += 4) {
    const at = samples + 4 * i;
    const a = f64x2.promote_low_f32x4(v128.load64_zero(at));
    const b = f64x2.promote_low_f32x4(v128.load64_zero(at + 8));
    low = f64x2.add(low, f64x2.mul(a, a));
    high = f64x2.add(high, f64x2.mul(b, b));
  }
  low = f64x2.add(low, high);
  let sum = f64x2.extract_lane(low, 0) + f64x2.extract_lane(low, 1);
  for (; i < to; i++) sum += <f64>load<f32>(samples + 4 * i) * <f64>load<f32>(samples + 4 * i);
  return sum;
}

/** Mean squares of every `step` floats of `length`, the last of what is left. */
export function stepPowers(samples: usize, length: i32, step: i32, out: usize): void {
  for (let from = 0, n = 0; from < length; from += step, n++) {
    const to = min<i32>(length, from + step);
    store<f32>(out + 4 * n, <f32>(squares(samples, from, to) / <f64>(to - from)));
  }
}

/** Sums of squares of `length` floats from one multiple of `step` to the next, bounds rounded down, as doubles; `count` of them. */
export function stepEnergies(samples: usize, length: i32, step: f64, count: i32, out: usize): void {
  for (let n = 0; n < count; n++) {
    const from = <i32>(<f64>n * step);
    const to = min<i32>(length, <i32>(<f64>(n + 1) * step));
    store<f64>(out + 8 * n, squares(samples, from, to));
  }
}

/**
 * Convolves one channel with two short responses and writes `count` frames, left and right by turns as floats. Each response
 * has `taps` floats (a multiple of four), last tap first; the left one lies before the right one. `x` begins `taps - 1` frames
 * before the first frame that is written.
 */
export function throughPair(x: usize, count: i32, responses: usize, taps: i32, out: usize): void {
  const other = (<usize>taps) << 2;
  const end = responses + other;
  for (let n = 0; n < count; n++) {
    let at = x + ((<usize>n) << 2);
    let left = f32x4.splat(0);
    let right = f32x4.splat(0);
    for (let h = responses; h < end; h += 16, at += 16) {
      const here = v128.load(at);
      left = f32x4.add(left, f32x4.mul(here, v128.load(h)));
      right = f32x4.add(right, f32x4.mul(here, v128.load(h + other)));
    }
    store<f32>(out + 8 * n, total(left));
    store<f32>(out + 8 * n + 4, total(right));
  }
}
