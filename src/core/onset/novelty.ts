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

/** Novelty over time: one value a hop, the mean rise of log magnitude (log10 units) over all bands, or those of one part. */
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
  const flat = flatten(bands);
  const count = bands.length;
  // Rows of band levels, a zero at each end standing for the neighbours that the outermost bands do not have.
  const history = Array.from({ length: lag + 2 }, () => new Float32Array(count + 2));
  const nothing = new Float32Array(count + 2);
  const all = new Float32Array(hops);
  const low = new Float32Array(hops);
  const mid = new Float32Array(hops);
  const high = new Float32Array(hops);
  const scale = GAMMA / Math.max(reference, 1e-6);
  const firstMid = bands.findIndex((b) => b.centreHz >= LOW_BELOW_HZ);
  const firstHigh = bands.findIndex((b) => b.centreHz > HIGH_ABOVE_HZ);
  const midAt = firstMid < 0 ? count : firstMid;
  const highAt = firstHigh < 0 ? count : firstHigh;

  const take = (n: number, magnitudes: Float64Array) => {
    const now = history[n % history.length] as Float32Array;
    bandLevels(flat, magnitudes, scale, now);
    // The file's end is no sound: a window that reaches past it would see the cut as a click.
    if (n * hop + windowSize / 2 > samples.length) return;
    const before = n >= lag ? (history[(n - lag) % history.length] as Float32Array) : nothing;
    const sumLow = riseOver(now, before, 0, midAt);
    const sumMid = riseOver(now, before, midAt, highAt);
    const sumHigh = riseOver(now, before, highAt, count);
    all[n] = (sumLow + sumMid + sumHigh) / count;
    low[n] = sumLow / Math.max(1, midAt);
    mid[n] = sumMid / Math.max(1, highAt - midAt);
    high[n] = sumHigh / Math.max(1, count - highAt);
  };

  for (let n = 0; n < hops; n += 2) {
    const start = n * hop - windowSize / 2;
    spectrum.magnitudes(samples, start, start + hop, magA, magB);
    take(n, magA);
    if (n + 1 < hops) take(n + 1, magB);
  }
  return { hop, offset: 0, all, low, mid, high };
}

/** The bands' weights one after another: band b has those from `offset[b]` to `offset[b + 1]`, for bins from `firstBin[b]`. */
interface FlatBands {
  readonly firstBin: Int32Array;
  readonly offset: Int32Array;
  readonly weights: Float64Array;
}

function flatten(bands: readonly Band[]): FlatBands {
  const offset = new Int32Array(bands.length + 1);
  for (const [b, band] of bands.entries()) offset[b + 1] = (offset[b] as number) + band.weights.length;
  const weights = new Float64Array(offset[bands.length] as number);
  for (const [b, band] of bands.entries()) weights.set(band.weights, offset[b]);
  return { firstBin: Int32Array.from(bands, (band) => band.firstBin), offset, weights };
}

/** Writes the compressed level of each band to `out`, from its second place on. */
function bandLevels(
  { firstBin, offset, weights }: FlatBands,
  magnitudes: Float64Array,
  scale: number,
  out: Float32Array,
): void {
  for (let b = 0; b < firstBin.length; b++) {
    const end = offset[b + 1] as number;
    let sum = 0;
    for (let i = offset[b] as number, k = firstBin[b] as number; i < end; i++, k++)
      sum += (weights[i] as number) * (magnitudes[k] as number);
    out[b + 1] = Math.log10(1 + scale * sum);
  }
}

/** Sum over bands [from, to) of how far each has risen above the loudest of itself and its neighbours before. */
function riseOver(now: Float32Array, before: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let b = from; b < to; b++) {
    let loudest = before[b + 1] as number;
    if ((before[b] as number) > loudest) loudest = before[b] as number;
    if ((before[b + 2] as number) > loudest) loudest = before[b + 2] as number;
    const rise = (now[b + 1] as number) - loudest;
    if (rise > 0) sum += rise;
  }
  return sum;
}
