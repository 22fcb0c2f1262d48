// How far two sounds are one and the same wave.

import { total } from './functions';
import { transform } from './transform';

/** Bins that are summed up before the correlation is worked out, which is then true of an eighth of all lags. */
const FOLD = 8;
/** Against division by nought. */
const LEAST: f32 = 1e-12;

/** A spectrum, `bins` real parts and then imaginary ones, with the amount of every bin weighed down to its root. */
export function weighDown(spectrum: usize, bins: i32, out: usize): void {
  const im = <usize>(4 * bins);
  for (let at: usize = 0; at < im; at += 16) {
    const re = v128.load(spectrum + at);
    const turned = v128.load(spectrum + im + at);
    const amount = f32x4.sqrt(f32x4.add(f32x4.mul(re, re), f32x4.mul(turned, turned)));
    const weight = f32x4.div(f32x4.splat(1), f32x4.sqrt(f32x4.add(amount, f32x4.splat(LEAST))));
    v128.store(out + at, f32x4.mul(re, weight));
    v128.store(out + im + at, f32x4.mul(turned, weight));
  }
}

/**
 * Correlation of two sounds by their spectra, weighed down, at lags of half a `size / FOLD` to either side: complex values, as many
 * real parts as imaginary ones. Gives where. `work` holds two complex rows of `size / FOLD`.
 */
function correlation(a: usize, b: usize, bins: i32, from: i32, size: i32, twiddles: usize, work: usize): usize {
  const im = <usize>(4 * bins);
  const folded = size / FOLD;
  memory.fill(work, 0, 8 * folded);
  for (let m = from / FOLD; m < bins / FOLD; m++) {
    let sumRe = f32x4.splat(0);
    let sumIm = f32x4.splat(0);
    for (let half = 0; half < 2; half++) {
      const at = <usize>(4 * FOLD * m + 16 * half);
      const ar = v128.load(a + at),
        ai = v128.load(a + im + at);
      const br = v128.load(b + at),
        bi = v128.load(b + im + at);
      sumRe = f32x4.add(sumRe, f32x4.add(f32x4.mul(ar, br), f32x4.mul(ai, bi)));
      sumIm = f32x4.add(sumIm, f32x4.sub(f32x4.mul(ar, bi), f32x4.mul(ai, br)));
    }
    store<f32>(work + 4 * m, total(sumRe));
    store<f32>(work + 4 * folded + 4 * m, total(sumIm));
  }
  return transform(work, work + 8 * folded, folded, twiddles);
}

/** The lag within `most` frames to either side at which a correlation is greatest, between frames by a parabola. */
function bestLag(z: usize, folded: i32, most: i32): f64 {
  let best = 0;
  let highest: f32 = -1;
  for (let lag = -most; lag <= most; lag++) {
    const power = powerAt(z, folded, lag);
    if (power > highest) {
      highest = power;
      best = lag;
    }
  }
  const l = <f64>sqrt(powerAt(z, folded, best - 1));
  const m = <f64>sqrt(powerAt(z, folded, best));
  const r = <f64>sqrt(powerAt(z, folded, best + 1));
  const bend = l - 2 * m + r;
  return <f64>best + (bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (l - r)) / bend)) : 0);
}

function powerAt(z: usize, folded: i32, lag: i32): f32 {
  const at = z + 4 * (lag & (folded - 1));
  const re = load<f32>(at);
  const im = load<f32>(at + 4 * folded);
  return re * re + im * im;
}

/**
 * Coherence of two sounds in each of `count` bands, 0 to 1, at the lag at which they are most alike; gives that lag. A sound is `bins`
 * real parts of its spectrum of `size`, then imaginary parts, the same weighed down, and the power of each band; `edges` are the first bins of the bands
 * and the end of the last, multiples of 4. Bins from `from` on, a multiple of 8, tell the lag.
 */
export function coherence(
  a: usize,
  b: usize,
  bins: i32,
  size: i32,
  from: i32,
  most: i32,
  edges: usize,
  count: i32,
  twiddles: usize,
  work: usize,
  out: usize,
): f64 {
  const im = <usize>(4 * bins);
  const lag = bestLag(correlation(a + 2 * im, b + 2 * im, bins, from, size, twiddles, work), size / FOLD, most);
  const step = (-2.0 * Math.PI * lag) / <f64>size;
  const stepRe = f32x4.splat(<f32>Math.cos(4 * step));
  const stepIm = f32x4.splat(<f32>Math.sin(4 * step));
  const start = <f64>load<i32>(edges);
  // Turned on from bin to bin and from band to band, which follow one another.
  let turnRe = f32x4(
    <f32>Math.cos(step * start),
    <f32>Math.cos(step * (start + 1)),
    <f32>Math.cos(step * (start + 2)),
    <f32>Math.cos(step * (start + 3)),
  );
  let turnIm = f32x4(
    <f32>Math.sin(step * start),
    <f32>Math.sin(step * (start + 1)),
    <f32>Math.sin(step * (start + 2)),
    <f32>Math.sin(step * (start + 3)),
  );
  for (let band = 0; band < count; band++) {
    const first = load<i32>(edges + 4 * band);
    const last = load<i32>(edges + 4 * band + 4);
    let sumRe = f32x4.splat(0);
    let sumIm = f32x4.splat(0);
    for (let k = first; k < last; k += 4) {
      const at = <usize>(4 * k);
      const ar = v128.load(a + at),
        ai = v128.load(a + im + at);
      const br = v128.load(b + at),
        bi = v128.load(b + im + at);
      const re = f32x4.add(f32x4.mul(ar, br), f32x4.mul(ai, bi));
      const cross = f32x4.sub(f32x4.mul(ar, bi), f32x4.mul(ai, br));
      sumRe = f32x4.add(sumRe, f32x4.sub(f32x4.mul(re, turnRe), f32x4.mul(cross, turnIm)));
      sumIm = f32x4.add(sumIm, f32x4.add(f32x4.mul(re, turnIm), f32x4.mul(cross, turnRe)));
      const next = f32x4.sub(f32x4.mul(turnRe, stepRe), f32x4.mul(turnIm, stepIm));
      turnIm = f32x4.add(f32x4.mul(turnRe, stepIm), f32x4.mul(turnIm, stepRe));
      turnRe = next;
    }
    const re = total(sumRe);
    const cross = total(sumIm);
    const whole = load<f32>(a + 4 * im + 4 * band) * load<f32>(b + 4 * im + 4 * band);
    store<f32>(out + 4 * band, whole > 0 ? sqrt<f32>((re * re + cross * cross) / whole) : 0);
  }
  return lag;
}
