import { PairedSpectrum } from '../signal/spectrum';

/** How sound is cut into frames for the novelty curve, all in frames or bins of one sample rate. */
export interface NoveltyLayout {
  readonly windowSize: number;
  readonly hop: number;
  /** Hops between the two spectra that are compared. */
  readonly lag: number;
  readonly bands: readonly Band[];
}

interface Band {
  readonly firstBin: number;
  readonly weights: Float64Array;
  readonly centreHz: number;
}

/** Novelty over time: one value a hop, in the mean rise of log magnitude a band (in log10 units). */
export interface Novelty {
  readonly hop: number;
  /** Frame of the centre of hop 0's later window. */
  readonly offset: number;
  readonly all: Float32Array;
  readonly low: Float32Array;
  readonly mid: Float32Array;
  readonly high: Float32Array;
}

const BANDS_PER_OCTAVE = 12;
const LOWEST_HZ = 30;
const HIGHEST_HZ = 16000;
export const LOW_BELOW_HZ = 250;
export const HIGH_ABOVE_HZ = 3000;
/** Log compression: log10(1 + gamma * magnitude / reference). Tuned on the tuning set; see docs/onsets.md. */
const GAMMA = 2000;

export function noveltyLayout(sampleRate: number): NoveltyLayout {
  const windowSize = 2 ** Math.round(Math.log2(0.0225 * sampleRate));
  const hop = Math.max(1, Math.round(0.005 * sampleRate));
  return { windowSize, hop, lag: 2, bands: logBands(windowSize, sampleRate) };
}

/** Triangular bands of equal width in octaves; where bins are wider than a band, each bin is a band once. */
function logBands(windowSize: number, sampleRate: number): Band[] {
  const binHz = sampleRate / windowSize;
  const top = Math.min(HIGHEST_HZ, sampleRate * 0.47);
  const edges: number[] = [];
  for (let k = 0; ; k++) {
    const hz = LOWEST_HZ * 2 ** (k / BANDS_PER_OCTAVE);
    if (hz > top) break;
    const bin = Math.round(hz / binHz);
    if (bin >= 1 && bin !== edges.at(-1)) edges.push(bin);
  }
  const bands: Band[] = [];
  for (let b = 1; b + 1 < edges.length; b++) {
    const [low, mid, high] = [edges[b - 1] as number, edges[b] as number, edges[b + 1] as number];
    const weights = new Float64Array(high - low - 1);
    let sum = 0;
    for (let k = low + 1; k < high; k++) {
      const w = k <= mid ? (k - low) / (mid - low) : (high - k) / (high - mid);
      weights[k - low - 1] = w;
      sum += w;
    }
    for (let i = 0; i < weights.length; i++) weights[i] = (weights[i] as number) / sum;
    bands.push({ firstBin: low + 1, weights, centreHz: mid * binHz });
  }
  return bands;
}

/**
 * Spectral flux over logarithmic bands with suppression of ringing and vibrato: each band is compared with the loudest
 * of its neighbours `lag` hops before, so that a partial that wanders or beats is not taken for a new sound.
 *
 * Source: S. Böck, G. Widmer, "Maximum filter vibrato suppression for onset detection", DAFx-13 (2013).
 *
 * `samples` is one channel; `reference` the level (peak amplitude) that the compression is relative to. Hop n compares
 * the spectrum centred at frame `offset + n * hop` with the one `lag` hops before.
 */
export function novelty(samples: Float32Array, sampleRate: number, reference: number): Novelty {
  const layout = noveltyLayout(sampleRate);
  const { windowSize, hop, lag, bands } = layout;
  const hops = Math.ceil(samples.length / hop) + 1;
  const spectrum = new PairedSpectrum(windowSize);
  const bins = windowSize / 2 + 1;
  const magA = new Float64Array(bins);
  const magB = new Float64Array(bins);
  const history = Array.from({ length: lag + 2 }, () => new Float32Array(bands.length));
  const all = new Float32Array(hops);
  const low = new Float32Array(hops);
  const mid = new Float32Array(hops);
  const high = new Float32Array(hops);
  const scale = GAMMA / Math.max(reference, 1e-6);
  const floor = new Float32Array(bands.length);
  const isLow = bands.map((b) => b.centreHz < LOW_BELOW_HZ);
  const isHigh = bands.map((b) => b.centreHz > HIGH_ABOVE_HZ);

  const take = (n: number, magnitudes: Float64Array) => {
    const now = history[n % history.length] as Float32Array;
    for (let b = 0; b < bands.length; b++) {
      const { firstBin, weights } = bands[b] as Band;
      let sum = 0;
      for (let i = 0; i < weights.length; i++) sum += (weights[i] as number) * (magnitudes[firstBin + i] as number);
      now[b] = Math.log10(1 + scale * sum);
    }
    const before = n >= lag ? (history[(n - lag) % history.length] as Float32Array) : floor;
    let sumLow = 0;
    let sumMid = 0;
    let sumHigh = 0;
    for (let b = 0; b < bands.length; b++) {
      let loudest = before[b] as number;
      if (b > 0 && (before[b - 1] as number) > loudest) loudest = before[b - 1] as number;
      if (b + 1 < bands.length && (before[b + 1] as number) > loudest) loudest = before[b + 1] as number;
      const rise = (now[b] as number) - loudest;
      if (rise <= 0) continue;
      if (isLow[b]) sumLow += rise;
      else if (isHigh[b]) sumHigh += rise;
      else sumMid += rise;
    }
    // The file's end is no sound: a window that reaches past it would see the cut as a click.
    if (n * hop + windowSize / 2 > samples.length) return;
    all[n] = (sumLow + sumMid + sumHigh) / bands.length;
    low[n] = sumLow / bands.length;
    mid[n] = sumMid / bands.length;
    high[n] = sumHigh / bands.length;
  };

  for (let n = 0; n < hops; n += 2) {
    const start = n * hop - windowSize / 2;
    spectrum.magnitudes(samples, start, start + hop, magA, magB);
    take(n, magA);
    if (n + 1 < hops) take(n + 1, magB);
  }
  return { hop, offset: 0, all, low, mid, high };
}
