import { Fft, type HalfSpectrum } from '../kernel/fft';
import { type Audio, frameCount } from '../signal/audio';

/** Long windows resolve hum and tails; short ones follow an attack. */
const LONG = 2048;
const SHORT = 256;
/** The output fades from short to long windows between these times after an onset, in ms. */
const ATTACK_MS = [12, 32] as const;
/** Additional margin before the first stroke, in dB: nothing there is worth single bins that open and close. */
const GAP_MARGIN_DB = 2;
/** Margin of the noise under an attack, in dB: less noise is assumed there than was learnt. */
const ATTACK_MARGIN_DB = -3;
/** Share of the last frame's estimate in the prior signal-to-noise ratio, for windows a quarter apart. */
const SMOOTHING = 0.98;
/** A bin whose gain has come this near to the floor, in dB, is closed until the next onset. */
const CLOSED_DB = 6;

/** Power of a noise by frequency, per frame: `LONG / 2 + 1` values, for windows of which the squares add up to 1. */
export type NoiseSpectrum = Float64Array;

export interface NoiseReduction {
  /** The most that noise is taken down, in dB over 0. */
  readonly amountDb: number;
  /** How much more noise is assumed than was learnt, in dB: more takes more of the tail with it. */
  readonly marginDb: number;
}

const windows = new Map<number, Float32Array>();

/** Square root of a Hann window: applied before and after, windows a quarter apart add up evenly. */
function windowOf(size: number): Float32Array {
  const known = windows.get(size);
  if (known) return known;
  const made = Float32Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size));
  windows.set(size, made);
  return made;
}

/** The mean spectrum of a stretch that holds noise alone, over all channels; null where it is shorter than a window. */
export function learnNoise(audio: Audio, start = 0, end = frameCount(audio)): NoiseSpectrum | null {
  const frames = audio.channels.flatMap((channel) => powersOf(channel.subarray(start, end), LONG, LONG / 2));
  if (frames.length === 0) return null;
  return evened(meanOf(frames));
}

/**
 * The noise of a sound by itself: the mean spectrum of the quietest seventh of its windows, which lie in its gaps or at the
 * end of its tail. Null where it is shorter than two windows.
 */
export function guessNoise(audio: Audio): NoiseSpectrum | null {
  const frames = audio.channels.flatMap((channel) => powersOf(channel, LONG, LONG / 4));
  if (frames.length < 4 * audio.channels.length) return null;
  const sums = frames.map((powers) => powers.reduce((sum, x) => sum + x, 0));
  const order = [...sums.keys()]
    .filter((n) => (sums[n] as number) > 0)
    .sort((a, b) => (sums[a] as number) - (sums[b] as number));
  if (order.length === 0) return null;
  const quiet = order.slice(0, Math.max(1, Math.ceil(order.length / 7))).map((n) => frames[n] as Float64Array);
  return evened(meanOf(quiet));
}

function meanOf(frames: readonly Float64Array[]): Float64Array {
  return (frames[0] as Float64Array).map(
    (_, b) => frames.reduce((sum, f) => sum + (f[b] as number), 0) / frames.length,
  );
}

/** Evened over neighbours: a single frame's powers swing by 6 dB. */
function evened(powers: Float64Array): NoiseSpectrum {
  return powers.map((_, b) => {
    let [sum, count] = [0, 0];
    for (let k = Math.max(0, b - 2); k <= Math.min(powers.length - 1, b + 2); k++) {
      sum += powers[k] as number;
      count++;
    }
    return sum / count;
  });
}

function powersOf(x: Float32Array, size: number, hop: number): Float64Array[] {
  const fft = new Fft(size);
  const window = windowOf(size);
  const frames: Float64Array[] = [];
  for (let at = 0; at + size <= x.length; at += hop) frames.push(powers(spectrumAt(fft, window, x, at), size));
  return frames;
}

function spectrumAt(fft: Fft, window: Float32Array, x: Float32Array, at: number): HalfSpectrum {
  const frame = new Float32Array(fft.size);
  const last = Math.min(fft.size, x.length - at);
  for (let i = Math.max(0, -at); i < last; i++) frame[i] = (x[at + i] as number) * (window[i] as number);
  return fft.forward(frame);
}

function powers({ re, im }: HalfSpectrum, size: number): Float64Array {
  // The squares of the window add up to half its size.
  const out = new Float64Array(re.length);
  for (let b = 0; b < out.length; b++) {
    const real = re[b] as number;
    const imaginary = im[b] as number;
    out[b] = (real * real + imaginary * imaginary) / (size / 2);
  }
  return out;
}

/**
 * A channel with a noise taken out: the gain that estimates the logarithm of the amplitude best (Y. Ephraim, D. Malah,
 * "Speech enhancement using a minimum mean-square error log-spectral amplitude estimator", IEEE Trans. ASSP 33, 1985), by
 * the prior signal-to-noise ratio of the same authors' decision-directed approach (1984). Each stretch from one onset to
 * the next is worked on by itself, so that no window sees across an onset: what lies before an attack gains nothing, and
 * the attack loses nothing. Bins that have closed stay closed until the next onset, so that no single ones ring on.
 * `onsets` are frames in rising order.
 */
export function withoutNoise(
  x: Float32Array,
  noise: NoiseSpectrum,
  onsets: readonly number[],
  settings: NoiseReduction,
  sampleRate: number,
): Float32Array {
  const out = new Float32Array(x.length);
  const level = noise.reduce((sum, power) => sum + power, 0) / noise.length;
  const struck = new Set(onsets.map((onset) => beginningOf(x, onset, level, sampleRate)));
  const starts = [...new Set([0, ...struck])].filter((n) => n < x.length || n === 0).sort((a, b) => a - b);
  for (const [i, start] of starts.entries()) {
    const stretch = x.subarray(start, starts[i + 1] ?? x.length);
    out.set(cleaned(stretch, noise, struck.has(start), settings, sampleRate), start);
  }
  return out;
}

/** A stroke is looked for up to so far before and after where it is told, in ms, in steps of a quarter of one. */
const LOOK_BACK_MS = 6;
const LOOK_AHEAD_MS = 4;
const STEP_MS = 0.25;
/** A stroke stands out of the noise by this factor of power. */
const OUT_OF_NOISE = 6;

/** Where the stroke told to begin at `onset` rises out of a noise of `level` a frame: it may be told early or late. */
function beginningOf(x: Float32Array, onset: number, level: number, sampleRate: number): number {
  const step = Math.max(4, Math.round((STEP_MS / 1000) * sampleRate));
  const isLoud = (at: number) => meanPower(x, at, at + step) > OUT_OF_NOISE * level;
  const [least, most] = [onset - (LOOK_BACK_MS / 1000) * sampleRate, onset + (LOOK_AHEAD_MS / 1000) * sampleRate];
  let at = onset;
  while (at < most && at + step < x.length && !isLoud(at)) at += step;
  if (!isLoud(at)) return onset;
  while (at - step >= Math.max(0, least) && isLoud(at - step)) at -= step;
  return Math.max(0, at - step);
}

function meanPower(x: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (x[i] as number) ** 2;
  return sum / Math.max(1, to - from);
}

function cleaned(
  x: Float32Array,
  noise: NoiseSpectrum,
  isStruck: boolean,
  settings: NoiseReduction,
  sampleRate: number,
): Float32Array {
  const more = isStruck ? 0 : GAP_MARGIN_DB;
  const long = reduced(x, LONG, noise, isStruck, { ...settings, marginDb: settings.marginDb + more });
  if (!isStruck) return long;
  const [first, last] = ATTACK_MS.map((ms) => Math.round((ms / 1000) * sampleRate)) as [number, number];
  const beginning = x.subarray(0, Math.min(x.length, last + SHORT));
  // An attack is worth more than what noise is left under it.
  const short = reduced(beginning, SHORT, noise, true, {
    ...settings,
    marginDb: Math.min(settings.marginDb, ATTACK_MARGIN_DB),
  });
  for (let i = 0; i < Math.min(last, x.length); i++) {
    const share = i < first ? 0 : (i - first) / (last - first);
    long[i] = share * (long[i] as number) + (1 - share) * (short[i] as number);
  }
  return long;
}

function reduced(
  x: Float32Array,
  size: number,
  noise: NoiseSpectrum,
  isStruck: boolean,
  { amountDb, marginDb }: NoiseReduction,
): Float32Array {
  const hop = size / 4;
  const fft = new Fft(size);
  const window = windowOf(size);
  const bins = size / 2 + 1;
  const step = LONG / size;
  const margin = 10 ** (marginDb / 10);
  const floor = 10 ** (-amountDb / 20);
  const closing = floor * 10 ** (CLOSED_DB / 20);
  const perNoise = new Float64Array(bins);
  for (let b = 0; b < bins; b++) perNoise[b] = 1 / (margin * bandMean(noise, b * step, step) + 1e-16);
  const out = new Float32Array(x.length);
  const last = new Float64Array(bins);
  const closed = new Uint8Array(bins);
  // Four windows lie over every frame, whose squares add up to 2.
  for (let at = -size + hop; at < x.length; at += hop) {
    const { re, im } = spectrumAt(fft, window, x, at);
    // A window that lies half outside holds so much less noise.
    const isWhole = at >= 0 && at + size <= x.length;
    const scale = 2 / size / (isWhole ? 1 : coverage(window, -at, x.length - at));
    const isFirst = isStruck && at <= 0;
    for (let b = 0; b < bins; b++) {
      let gain = floor;
      if (closed[b] === 0) {
        const real = re[b] as number;
        const imaginary = im[b] as number;
        const power = (real * real + imaginary * imaginary) * scale;
        const posterior = power * (perNoise[b] as number);
        const own = Math.max(0, posterior - 1);
        // Where a sound begins there is nothing before to go by: the first windows go by themselves.
        const prior = isFirst ? own : SMOOTHING * (last[b] as number) + (1 - SMOOTHING) * own;
        gain = Math.max(floor, logGain(prior, posterior));
        if (at > 0 && gain <= closing) {
          closed[b] = 1;
          gain = floor;
        }
        last[b] = gain * gain * posterior;
      }
      re[b] = (re[b] as number) * gain;
      im[b] = (im[b] as number) * gain;
    }
    const frame = fft.inverse(re, im);
    for (let i = Math.max(0, -at); i < size && at + i < x.length; i++) {
      out[at + i] = (out[at + i] as number) + (frame[i] as number) * (window[i] as number) * 0.5;
    }
  }
  return out;
}

/** Share of a window's power that lies from `from` to `to`. */
function coverage(window: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = Math.max(0, from); i < Math.min(window.length, to); i++) sum += (window[i] as number) ** 2;
  return Math.max(1e-3, sum / (window.length / 2));
}

function bandMean(values: Float64Array, middle: number, width: number): number {
  if (width === 1) return values[middle] as number;
  let [sum, count] = [0, 0];
  for (let b = Math.max(0, middle - width / 2); b <= Math.min(values.length - 1, middle + width / 2); b++) {
    sum += values[b] as number;
    count++;
  }
  return sum / count;
}

function logGain(prior: number, posterior: number): number {
  const share = prior / (1 + prior);
  return Math.min(1, share * expHalfE1(Math.max(LEAST_V, share * posterior)));
}

/** Octaves of the table of exp(E1(v) / 2), and its values an octave: read in a line between them it errs by less than 1e-5. */
const LOWEST_OCTAVE = -34;
const HIGHEST_OCTAVE = 6;
const BITS_AN_OCTAVE = 8;
const LEAST_V = 2 ** LOWEST_OCTAVE;

const single = new Float32Array(1);
const asBits = new Int32Array(single.buffer);
const SHIFT = 23 - BITS_AN_OCTAVE;
/** Where the table begins, in the order of the bits of a float: its exponent, then its highest digits (IEEE 754). */
const FIRST = (127 + LOWEST_OCTAVE) << BITS_AN_OCTAVE;
let table: Float64Array | null = null;

function tableOfGains(): Float64Array {
  const entries = ((HIGHEST_OCTAVE - LOWEST_OCTAVE) << BITS_AN_OCTAVE) + 2;
  const values = new Float64Array(entries);
  for (let i = 0; i < entries; i++) {
    asBits[0] = (FIRST + i) << SHIFT;
    values[i] = Math.exp(exponentialIntegral(single[0] as number) / 2);
  }
  return values;
}

function expHalfE1(v: number): number {
  table ??= tableOfGains();
  single[0] = v;
  const bits = asBits[0] as number;
  const at = (bits >> SHIFT) - FIRST;
  // E1 has vanished there.
  if (at >= table.length - 1) return 1;
  const low = table[at] as number;
  return low + ((table[at + 1] as number) - low) * ((bits & ((1 << SHIFT) - 1)) / (1 << SHIFT));
}

/** E1(x) for x over 0 (M. Abramowitz, I. Stegun, "Handbook of mathematical functions", 1964, 5.1.53 and 5.1.56). */
function exponentialIntegral(x: number): number {
  if (x <= 1)
    return (
      -Math.log(x) -
      0.57721566 +
      x * (0.99999193 + x * (-0.24991055 + x * (0.05519968 + x * (-0.00976004 + x * 0.00107857))))
    );
  const above = x * (x * (x * (x + 8.5733287401) + 18.059016973) + 8.6347608925) + 0.2677737343;
  const below = x * (x * (x * (x + 9.5733223454) + 25.6329561486) + 21.0996530827) + 3.9584969228;
  return (Math.exp(-x) / x) * (above / below);
}

/** Decibels of a byte, and what 0 stands for. */
const BYTE_DB = 0.65;
const LOWEST_DB = -165;

/** A noise's spectrum as bytes, one a bin, for a step to keep. */
export function packNoise(noise: NoiseSpectrum): Uint8Array {
  return Uint8Array.from(noise, (power) =>
    Math.max(0, Math.min(255, Math.round((10 * Math.log10(power + 1e-20) - LOWEST_DB) / BYTE_DB))),
  );
}

/** The inverse of `packNoise`; null where the bytes are none of it. */
export function unpackNoise(bytes: Uint8Array): NoiseSpectrum | null {
  if (bytes.length !== LONG / 2 + 1) return null;
  return Float64Array.from(bytes, (byte) => 10 ** ((byte * BYTE_DB + LOWEST_DB) / 10));
}
