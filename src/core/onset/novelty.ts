import { threadKernel } from '../kernel/kernel';
import { hann } from '../signal/window';

/** Frame layout of the novelty curve, in frames or bins at one sample rate. */
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

/** Hops computed at once: about twenty seconds. */
const PIECE_HOPS = 4096;
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
 * Spectral flux over logarithmic bands with suppression of ringing and vibrato: each band is compared with the
 * loudest of its neighbours `lag` hops before, so that a partial that wanders or beats is not taken for a new sound.
 *
 * Source: S. Böck, G. Widmer, "Maximum filter vibrato suppression for onset detection", DAFx-13 (2013).
 *
 * `samples` is one channel; `reference` the level (peak amplitude) that the compression is relative to. Hop n compares
 * the spectrum centred at frame `offset + n
 *
 * hop` with the one `lag` hops before.
 */
export function novelty(samples: Float32Array, sampleRate: number, reference: number): Novelty {
  const layout = noveltyLayout(sampleRate);
  const { windowSize, hop, lag, bands } = layout;
  const hops = Math.ceil(samples.length / hop) + 1;
  const count = bands.length;
  const firstMid = bands.findIndex((b) => b.centreHz >= LOW_BELOW_HZ);
  const firstHigh = bands.findIndex((b) => b.centreHz > HIGH_ABOVE_HZ);
  const midAt = firstMid < 0 ? count : firstMid;
  const highAt = firstHigh < 0 ? count : firstHigh;
  const scale = GAMMA / Math.max(reference, 1e-6);
  const all = new Float32Array(hops);
  const low = new Float32Array(hops);
  const mid = new Float32Array(hops);
  const high = new Float32Array(hops);
  const kernel = threadKernel();
  // Hops computed before a piece, so that its first ones have spectra to compare with.
  const lead = lag + Math.ceil(windowSize / 2 / hop);

  kernel.within(() => {
    const window = kernel.lay(Float32Array.from(hann(windowSize)));
    const twiddles = kernel.run.reserve(12 * windowSize);
    kernel.run.fillTwiddles(twiddles, windowSize);
    const flat = flatten(bands);
    const [firstBin, offset, weights] = [flat.firstBin, flat.offset, flat.weights].map((v) => kernel.lay(v));
    for (let from = 0; from < hops; from += PIECE_HOPS) {
      const to = Math.min(hops, from + PIECE_HOPS);
      const first = Math.max(0, from - lead);
      const piece = samples.subarray(first * hop, to * hop + windowSize);
      const rows = to - first;
      kernel.within(() => {
        const at = kernel.lay(piece);
        const out = kernel.run.reserve(12 * rows);
        kernel.floats(out, 3 * rows).fill(0);
        kernel.run.novelty(
          at,
          piece.length,
          windowSize,
          hop,
          rows,
          lag,
          window,
          twiddles,
          count,
          midAt,
          highAt,
          firstBin as number,
          offset as number,
          weights as number,
          scale,
          out,
        );
        const sums = kernel.floats(out, 3 * rows);
        for (let n = from; n < to; n++) {
          const row = n - first;
          const [l, m, h] = [sums[row] as number, sums[rows + row] as number, sums[2 * rows + row] as number];
          all[n] = (l + m + h) / count;
          low[n] = l / Math.max(1, midAt);
          mid[n] = m / Math.max(1, highAt - midAt);
          high[n] = h / Math.max(1, count - highAt);
        }
      });
    }
  });
  return { hop, offset: 0, all, low, mid, high };
}

/** The weights of all bands: band b has those from `offset[b]` to `offset[b + 1]`, for bins from `firstBin[b]`. */
interface FlatBands {
  readonly firstBin: Int32Array;
  readonly offset: Int32Array;
  readonly weights: Float32Array;
}

function flatten(bands: readonly Band[]): FlatBands {
  const offset = new Int32Array(bands.length + 1);
  for (const [b, band] of bands.entries()) offset[b + 1] = (offset[b] as number) + band.weights.length;
  const weights = new Float32Array(offset[bands.length] as number);
  for (const [b, band] of bands.entries()) weights.set(band.weights, offset[b]);
  return { firstBin: Int32Array.from(bands, (band) => band.firstBin), offset, weights };
}
