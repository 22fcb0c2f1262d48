import { threadKernel } from '../kernel/kernel';

/** A fundamental and how clearly periodic the sound is there, 0..1. */
export interface Root {
  readonly hz: number;
  readonly clarity: number;
}

/** Lowest and highest pitch of the search. */
export const LOWEST_HZ = 30;
export const HIGHEST_HZ = 5000;
/** The period is the first peak that reaches this share of the highest (McLeod & Wyvill's k). */
const FIRST_PEAK = 0.9;
/** Long periods are searched at about this rate, short ones (up to this many seconds) at the sound's own rate. */
const COARSE_HZ = 11025;
const SHORT_S = 0.0025;
/** Frames that the maximum may lie from the coarse one. */
const MOST_STEPS = 12;
/** A fundamental this far under its second partial is inaudible: the root is then that partial. */
const SILENT_DB = 26;

/**
 * Pitch of a stretch of sound, or null where it hardly repeats: the first high peak of the normalised square difference
 * function (P. McLeod, G. Wyvill, "A smarter way to find pitch", ICMC 2005).
 */
export function periodOf(window: Float32Array, sampleRate: number): Root | null {
  return threadKernel().within(() => periodOfLaid({ samples: window, at: threadKernel().lay(window) }, sampleRate));
}

/** A stretch of sound that also lies in the kernel's memory. */
interface Laid {
  readonly samples: Float32Array;
  readonly at: number;
}

function periodOfLaid(window: Laid, sampleRate: number): Root | null {
  const { length } = window.samples;
  const factor = Math.max(1, Math.floor(sampleRate / COARSE_HZ));
  const coarse = factor === 1 ? window : decimated(window, factor);
  const shortLags = factor === 1 ? 0 : Math.ceil(SHORT_S * sampleRate);
  // Twenty periods of the longest pitch are enough.
  const few = { samples: window.samples.subarray(0, length >> 1), at: window.at };
  const short = factor === 1 ? new Float64Array(0) : squareDifference(few, shortLags);
  const longest = Math.min(Math.floor(sampleRate / factor / LOWEST_HZ), Math.floor(coarse.samples.length / 2));
  const long = squareDifference(coarse, longest + 1);
  // One function of lags in the sound's own frames: every frame for short lags, every `factor` frames for long ones.
  const lags: number[] = [];
  const values: number[] = [];
  for (let lag = 1; lag < short.length - 1; lag++) {
    lags.push(lag);
    values.push(short[lag] as number);
  }
  for (let n = 1; n <= longest; n++) {
    if (n * factor < shortLags) continue;
    lags.push(n * factor);
    values.push(long[n] as number);
  }
  const shortest = sampleRate / HIGHEST_HZ;
  const peaks = peaksOf(values).filter((p) => (lags[p] as number) >= shortest && p < values.length - 1);
  if (peaks.length === 0) return null;
  const highest = Math.max(...peaks.map((p) => values[p] as number));
  const first = peaks.find((p) => (values[p] as number) >= FIRST_PEAK * highest) as number;
  const [l, m, r] = [values[first - 1] ?? 0, values[first] as number, values[first + 1] ?? 0];
  const top = top3(l, m, r) * ((lags[first + 1] as number) - (lags[first] as number));
  let period = sharpened(window, (lags[first] as number) + top);
  if (period.lag / 2 >= shortest && decibelsAt(window, period.lag / 2) - decibelsAt(window, period.lag) > SILENT_DB) {
    const halved = sharpened(window, period.lag / 2);
    if (halved.clarity > 0.3) period = { lag: halved.lag, clarity: period.clarity };
  }
  return period.clarity < 0.6 ? null : { hz: sampleRate / period.lag, clarity: period.clarity };
}

/** The maximum of each stretch above zero, after the first fall below it. */
function peaksOf(values: readonly number[]): number[] {
  const peaks: number[] = [];
  let i = 0;
  while (i < values.length && (values[i] as number) > 0) i++;
  for (let best = -1; i < values.length; i++) {
    const x = values[i] as number;
    if (x > 0 && (best < 0 || x > (values[best] as number))) best = i;
    if ((x <= 0 || i === values.length - 1) && best >= 0) {
      peaks.push(best);
      best = -1;
    }
  }
  return peaks;
}

/** The normalised square difference at lags 0 to `most`. */
function squareDifference({ samples, at }: Laid, most: number): Float64Array {
  const kernel = threadKernel();
  const sums = kernel.within(() => {
    const out = kernel.run.reserve(8 * (most + 1));
    kernel.run.correlations(at, samples.length, most, out);
    return kernel.doubles(out, most + 1).slice();
  });
  let energy = 2 * (sums[0] as number);
  for (let lag = 0; lag <= most; lag++) {
    sums[lag] = energy > 0 ? (2 * (sums[lag] as number)) / energy : 0;
    energy -= (samples[lag] as number) ** 2 + (samples[samples.length - 1 - lag] as number) ** 2;
  }
  return sums;
}

/** The lag near `lag` where the function is highest, between frames: the vertex of a parabola through three values. */
function sharpened({ samples: { length }, at }: Laid, near: number): { lag: number; clarity: number } {
  const hold = (lag: number) => Math.max(2, Math.min(length - 2, lag));
  const differenceAt = (lag: number) => threadKernel().run.likenessAt(at, length, lag);
  let lag = hold(Math.round(near));
  let [l, m, r] = [differenceAt(lag - 1), differenceAt(lag), differenceAt(lag + 1)];
  // Hill climbing from the peak of the coarser function, which may be some frames off.
  for (let step = 0; step < MOST_STEPS && Math.max(l, r) > m; step++) {
    const next = hold(l > r ? lag - 1 : lag + 1);
    if (next === lag) break;
    [l, m, r] = next < lag ? [differenceAt(next - 1), l, m] : [m, r, differenceAt(next + 1)];
    lag = next;
  }
  const offset = top3(l, m, r);
  return { lag: lag + offset, clarity: Math.min(1, m - 0.25 * (l - r) * offset) };
}

/** Vertex of a parabola through three values, relative to the middle one, -0.5 to 0.5. */
function top3(l: number, m: number, r: number): number {
  const bend = l - 2 * m + r;
  return bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (l - r)) / bend)) : 0;
}

/** Level in dB of the partial whose period is `lag` frames: one line of the Fourier transform under a Hann window. */
function decibelsAt({ samples, at }: Laid, lag: number): number {
  return 10 * Math.log10(threadKernel().run.linePower(at, samples.length, lag) + 1e-30);
}

/**
 * Every `factor`th sample after a low-pass at half the new rate: a windowed sinc (Oppenheim & Schafer, section 7.5).
 */
function decimated({ samples, at }: Laid, factor: number): Laid {
  const kernel = threadKernel();
  const taps = lowPass(factor, 6 * factor);
  const length = Math.floor(samples.length / factor);
  const out = kernel.run.reserve(4 * length);
  kernel.within(() => kernel.run.decimate(at, samples.length, kernel.lay(taps), taps.length, factor, out));
  return { samples: kernel.floats(out, length).slice(), at: out };
}

const lowPasses = new Map<number, Float32Array>();

function lowPass(factor: number, reach: number): Float32Array {
  const known = lowPasses.get(factor);
  if (known) return known;
  const taps = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
    const x = (i - reach) / factor;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * 0.85 * x) / (Math.PI * 0.85 * x);
    return sinc * (0.5 + 0.5 * Math.cos((Math.PI * (i - reach)) / (reach + 1)));
  });
  const sum = taps.reduce((a, b) => a + b, 0);
  const scaled = Float32Array.from(taps, (tap) => tap / sum);
  lowPasses.set(factor, scaled);
  return scaled;
}
