// How far two sounds are one and the same wave.

import { total, totals } from './functions';
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
 * real parts as imaginary ones. Gives where.
 */
function correlation(a: usize, b: usize, waves: Waves): usize {
  const bins = waves.bins;
  const size = waves.size;
  const work = waves.work;
  const im = <usize>(4 * bins);
  const folded = size / FOLD;
  memory.fill(work, 0, 8 * folded);
  let m = waves.from / FOLD;
  for (; m + 4 <= bins / FOLD; m += 4) {
    const x = a + <usize>(4 * FOLD * m);
    const y = b + <usize>(4 * FOLD * m);
    const next = <usize>(4 * FOLD);
    const re = totals(
      inStep(x, y, im),
      inStep(x + next, y + next, im),
      inStep(x + 2 * next, y + 2 * next, im),
      inStep(x + 3 * next, y + 3 * next, im),
    );
    const across = totals(
      outOfStep(x, y, im),
      outOfStep(x + next, y + next, im),
      outOfStep(x + 2 * next, y + 2 * next, im),
      outOfStep(x + 3 * next, y + 3 * next, im),
    );
    v128.store(work + 4 * m, re);
    v128.store(work + 4 * folded + 4 * m, across);
  }
  for (; m < bins / FOLD; m++) {
    const at = <usize>(4 * FOLD * m);
    store<f32>(work + 4 * m, total(inStep(a + at, b + at, im)));
    store<f32>(work + 4 * folded + 4 * m, total(outOfStep(a + at, b + at, im)));
  }
  return transform(work, work + 8 * folded, folded, waves.twiddles);
}

/** Real part of the cross-spectrum of eight bins, folded to four. */
function inStep(a: usize, b: usize, im: usize): v128 {
  const low = f32x4.add(f32x4.mul(v128.load(a), v128.load(b)), f32x4.mul(v128.load(a + im), v128.load(b + im)));
  const high = f32x4.add(
    f32x4.mul(v128.load(a + 16), v128.load(b + 16)),
    f32x4.mul(v128.load(a + im + 16), v128.load(b + im + 16)),
  );
  return f32x4.add(low, high);
}

/** Its imaginary part. */
function outOfStep(a: usize, b: usize, im: usize): v128 {
  const low = f32x4.sub(f32x4.mul(v128.load(a), v128.load(b + im)), f32x4.mul(v128.load(a + im), v128.load(b)));
  const high = f32x4.sub(
    f32x4.mul(v128.load(a + 16), v128.load(b + im + 16)),
    f32x4.mul(v128.load(a + im + 16), v128.load(b + 16)),
  );
  return f32x4.add(low, high);
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

/** How spectra of the heads of one sample rate are laid out. */
@unmanaged
export class Waves {
  /** Bins of a spectrum of `size` that are kept. */
  bins: i32;
  size: i32;
  /** Bins from here on, a multiple of 8, tell the lag. */
  from: i32;
  /** The furthest lag that is looked for, in frames, and that which is told as 1. */
  most: i32;
  whole: i32;
  /** First bins of the bands and the end of the last, multiples of 4. */
  edges: usize;
  /** Of a transform of `size / FOLD`. */
  twiddles: usize;
  /** Two complex rows of `size / FOLD`. */
  work: usize;
}

/** A sound's head: `bins` real parts of its spectrum, then imaginary parts, the same weighed down, and for each band its power and how clear it is. */
@unmanaged
export class Head {
  waves: usize;
  spectrum: usize;
}

/** Bands of a head, and from which on they count for the mean. */
const BANDS = 8;
const MEAN_FROM = 2;

/**
 * Figures of how coherent two heads are: whether they could be compared, coherence by band, its mean, the lag, and how coherent they could
 * be at most; noughts where they are of different sample rates.
 */
export function coherenceFigures(a: usize, b: usize, out: usize): void {
  const x = changetype<Head>(a);
  const y = changetype<Head>(b);
  if (x.waves !== y.waves) {
    memory.fill(out, 0, 4 * (3 + 2 * BANDS));
    return;
  }
  const waves = changetype<Waves>(x.waves);
  const powersX = x.spectrum + <usize>(16 * waves.bins);
  const powersY = y.spectrum + <usize>(16 * waves.bins);
  const lag = coherence(x.spectrum, y.spectrum, waves, out + 4);
  const most = out + 4 * (3 + BANDS);
  let weight: f32 = 0;
  let sum: f32 = 0;
  for (let band = 0; band < BANDS; band++) {
    const at = <usize>(4 * band);
    const clear = at + <usize>(4 * BANDS);
    store<f32>(most + at, load<f32>(powersX + clear) * load<f32>(powersY + clear));
    if (band < MEAN_FROM) continue;
    const share = sqrt<f32>(load<f32>(powersX + at) * load<f32>(powersY + at));
    weight += share;
    sum += share * load<f32>(out + 4 + at);
  }
  store<f32>(out, 1);
  store<f32>(out + 4 * (1 + BANDS), weight > 0 ? sum / weight : 0);
  store<f32>(out + 4 * (2 + BANDS), <f32>(Math.abs(lag) / <f64>waves.whole));
}

/** Coherence of two spectra in each band, 0 to 1, at the lag at which they are most alike; gives that lag. */
function coherence(a: usize, b: usize, waves: Waves, out: usize): f64 {
  const bins = waves.bins;
  const size = waves.size;
  const edges = waves.edges;
  const im = <usize>(4 * bins);
  const lag = bestLag(correlation(a + 2 * im, b + 2 * im, waves), size / FOLD, waves.most);
  const step = (-2.0 * Math.PI * lag) / <f64>size;
  const start = <f64>load<i32>(edges);
  // Turned on from bin to bin and from band to band, which follow one another.
  const oneRe = Math.cos(step);
  const oneIm = Math.sin(step);
  const re0 = Math.cos(step * start);
  const im0 = Math.sin(step * start);
  const re1 = re0 * oneRe - im0 * oneIm;
  const im1 = re0 * oneIm + im0 * oneRe;
  const re2 = re1 * oneRe - im1 * oneIm;
  const im2 = re1 * oneIm + im1 * oneRe;
  const twoRe = oneRe * oneRe - oneIm * oneIm;
  const twoIm = 2 * oneRe * oneIm;
  const stepRe = f32x4.splat(<f32>(twoRe * twoRe - twoIm * twoIm));
  const stepIm = f32x4.splat(<f32>(2 * twoRe * twoIm));
  let turnRe = f32x4(<f32>re0, <f32>re1, <f32>re2, <f32>(re2 * oneRe - im2 * oneIm));
  let turnIm = f32x4(<f32>im0, <f32>im1, <f32>im2, <f32>(re2 * oneIm + im2 * oneRe));
  for (let band = 0; band < BANDS; band++) {
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
