import { logarithms } from './functions';
import { mark, release, reserve } from './memory';
import { loadFrames, partMagnitudes, transform } from './transform';

// The novelty curve of core/onset/novelty.ts.

/** Compressed levels of all bands, from the second place of `out` on; up to three places after the last are written over. */
function bandLevels(
  magnitudes: usize,
  count: i32,
  firstBin: usize,
  offset: usize,
  weights: usize,
  scale: f32,
  out: usize,
): void {
  for (let b = 0; b < count; b++) {
    let i = load<i32>(offset + 4 * b);
    const end = load<i32>(offset + 4 * b + 4);
    let k = load<i32>(firstBin + 4 * b);
    let sums = f32x4.splat(0);
    for (; i + 4 <= end; i += 4, k += 4)
      sums = f32x4.add(sums, f32x4.mul(v128.load(weights + 4 * i), v128.load(magnitudes + 4 * k)));
    let sum =
      f32x4.extract_lane(sums, 0) +
      f32x4.extract_lane(sums, 1) +
      f32x4.extract_lane(sums, 2) +
      f32x4.extract_lane(sums, 3);
    for (; i < end; i++, k++) sum += load<f32>(weights + 4 * i) * load<f32>(magnitudes + 4 * k);
    store<f32>(out + 4 * (b + 1), 1 + scale * sum);
  }
  for (let b = 0; b < count; b += 4) v128.store(out + 4 * (b + 1), logarithms(v128.load(out + 4 * (b + 1))));
  store<f32>(out + 4 * (count + 1), 0);
}

/** Sum over bands [from, to) of how far each has risen above the loudest of itself and its neighbours before. */
function riseOver(now: usize, before: usize, from: i32, to: i32): f32 {
  let sums = f32x4.splat(0);
  let b = from;
  for (; b + 4 <= to; b += 4) {
    const at = before + 4 * b;
    const loudest = f32x4.max(f32x4.max(v128.load(at), v128.load(at + 4)), v128.load(at + 8));
    sums = f32x4.add(sums, f32x4.max(f32x4.splat(0), f32x4.sub(v128.load(now + 4 * b + 4), loudest)));
  }
  let sum =
    f32x4.extract_lane(sums, 0) +
    f32x4.extract_lane(sums, 1) +
    f32x4.extract_lane(sums, 2) +
    f32x4.extract_lane(sums, 3);
  for (; b < to; b++) {
    const at = before + 4 * b;
    const loudest = max<f32>(max<f32>(load<f32>(at), load<f32>(at + 4)), load<f32>(at + 8));
    sum += max<f32>(0, load<f32>(now + 4 * b + 4) - loudest);
  }
  return sum;
}

/**
 * The novelty curve of `length` samples in `hops` hops: sums of rises over the low, the middle and the high bands, a row each
 * at `out`. `work` holds two complex rows, two rows of magnitudes and `lag + 2` rows of levels.
 */
export function novelty(
  samples: usize,
  length: i32,
  size: i32,
  hop: i32,
  hops: i32,
  lag: i32,
  window: usize,
  twiddles: usize,
  count: i32,
  midAt: i32,
  highAt: i32,
  firstBin: usize,
  offset: usize,
  weights: usize,
  scale: f32,
  out: usize,
): void {
  const start = mark();
  const one = reserve(8 * size);
  const other = reserve(8 * size);
  const magnitudes = reserve(4 * (size + 16));
  const magnitudesB = magnitudes + 4 * (size / 2 + 8);
  const row = 4 * (count + 6);
  const history = reserve(row * (lag + 3));
  memory.fill(history, 0, row * (lag + 3));
  const nothing = history + row * (lag + 2);
  for (let n = 0; n < hops; n += 2) {
    const at = n * hop - size / 2;
    loadFrames(samples, length, at, at + hop, size, window, one);
    partMagnitudes(transform(one, other, size, twiddles), size, <f32>1 / <f32>size, magnitudes, magnitudesB);
    for (let k = n; k < n + 2 && k < hops; k++) {
      const now = history + row * (k % (lag + 2));
      bandLevels(k === n ? magnitudes : magnitudesB, count, firstBin, offset, weights, scale, now);
      // The file's end is no sound: a window that reaches past it would see the cut as a click.
      if (k * hop + size / 2 > length) continue;
      const before = k >= lag ? history + row * ((k - lag) % (lag + 2)) : nothing;
      store<f32>(out + 4 * k, riseOver(now, before, 0, midAt));
      store<f32>(out + 4 * (hops + k), riseOver(now, before, midAt, highAt));
      store<f32>(out + 4 * (2 * hops + k), riseOver(now, before, highAt, count));
    }
  }
  release(start);
}
