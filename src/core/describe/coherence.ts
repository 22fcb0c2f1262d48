import { type Kernel, threadKernel } from '../kernel/kernel';
import { BROAD_BANDS, BROAD_EDGES_HZ } from './bands';
import { type Head, headReach } from './head';
import { BANDS, bandMiddles, type Sketch } from './sketch';

/** What is lower than this hardly tells the lag. */
const LAG_FROM_HZ = 340;
/** From this band on they count for the mean. */
const MEAN_FROM = 2;
/** Starts of one drum are marked no further apart than this. */
const MOST_LAG_S = 0.003;
/**
 * Figures that are told of a pair: 1 where waves could be compared; coherence in each band, its mean, the lag; and how coherent two
 * sounds could be in each band at most, with what rang on before each in it.
 */
export const COHERENCE_FIGURES = 2 * BROAD_BANDS + 3;
/** Cells of a sketch that a head reaches over. */
const HEAD_CELLS = 3;

/** How spectra of heads of one sample rate are laid out. */
interface Layout {
  readonly size: number;
  readonly bins: number;
  readonly from: number;
  readonly mostLag: number;
  readonly edges: Int32Array;
  readonly window: Float32Array;
}

function layoutFor(sampleRate: number): Layout {
  const { before, after } = headReach(sampleRate);
  // Room for the head and for lags.
  const size = 2 ** Math.ceil(Math.log2(2 * (before + after)) - 0.01);
  const bin = sampleRate / size;
  const upTo = (multiple: number, hz: number) => multiple * Math.round(Math.min(hz, sampleRate / 2) / bin / multiple);
  const edges = Int32Array.from(BROAD_EDGES_HZ, (hz) => upTo(4, hz));
  const rise = (i: number) => 0.5 - 0.5 * Math.cos((Math.PI * i) / before);
  const fall = (i: number) => 0.5 + 0.5 * Math.cos((Math.PI * i) / after);
  return {
    size,
    bins: 8 * Math.ceil((edges[BROAD_BANDS] as number) / 8),
    from: upTo(8, LAG_FROM_HZ),
    mostLag: Math.round(MOST_LAG_S * sampleRate),
    edges,
    window: Float32Array.from({ length: before + after }, (_, i) => (i < before ? rise(i) : fall(i - before))),
  };
}

/** A head with the root of the share of its power in each band that is surely not of what rang on before. */
export interface ClearHead extends Head {
  readonly clear: Float32Array;
}

export function clearHead(head: Head, { powers, before, cells }: Sketch): ClearHead {
  const middles = bandMiddles(head.sampleRate);
  const [left, all] = [new Float64Array(BROAD_BANDS), new Float64Array(BROAD_BANDS)];
  const count = Math.min(HEAD_CELLS, cells);
  for (let b = 0; b < BANDS; b++) {
    const band = BROAD_EDGES_HZ.findLastIndex((hz) => hz <= (middles[b] as number));
    if (band < 0 || band >= BROAD_BANDS) continue;
    let power = 0;
    for (let c = 0; c < count; c++) power += (powers[c * BANDS + b] as number) / count;
    left[band] = (left[band] as number) + Math.min(power, before[b] as number);
    all[band] = (all[band] as number) + power;
  }
  return { ...head, clear: Float32Array.from(all, (power, b) => Math.sqrt(1 - (left[b] as number) / (power + 1e-20))) };
}

/** Heads laid in the kernel's memory as spectra. */
export interface LaidHeads {
  /** Writes the figures of two of them, by their places, to `out` from `at` on; noughts where they are of different sample rates. */
  compare(a: number, b: number, out: Float32Array, at: number): void;
}

/**
 * Lays heads where their waves are compared: how coherent two are in each band at the lag at which they are most alike (C. Knapp, G.
 * Carter, "The generalized correlation method for estimation of time delay", IEEE Trans. ASSP 24, 1976: cross-spectra weighed by the
 * root of their amount). Strokes of one sample are coherent in all bands, whatever their level; what else sounds along takes coherence
 * from its own bands. To be called within `kernel.within`.
 */
export function layHeads(heads: readonly ClearHead[]): LaidHeads {
  const kernel = threadKernel();
  const { run } = kernel;
  const rates = new Map<number, Layout & { readonly foldedTwiddles: number; readonly edgesAt: number; work: number }>();
  const at = new Int32Array(heads.length);
  const powers: Float32Array[] = heads.map(() => new Float32Array(BROAD_BANDS));
  for (const sampleRate of new Set(heads.map((h) => h.sampleRate))) {
    const layout = layoutFor(sampleRate);
    const { size, bins, edges, window } = layout;
    const places = heads.flatMap((h, i) => (h.sampleRate === sampleRate ? [i] : []));
    for (const i of places) at[i] = run.reserve(16 * bins + 4 * BROAD_BANDS);
    rates.set(sampleRate, {
      ...layout,
      foldedTwiddles: twiddlesFor(kernel, size / 8),
      edgesAt: kernel.lay(edges),
      work: run.reserve(2 * size),
    });
    kernel.within(() => {
      const twiddles = twiddlesFor(kernel, size);
      const work = run.reserve(16 * size);
      const frame = new Float32Array(size);
      const frameAt = run.reserve(4 * size);
      for (const i of places) {
        const { samples } = heads[i] as ClearHead;
        for (let k = 0; k < window.length; k++) frame[k] = (window[k] as number) * (samples[k] as number);
        kernel.floats(frameAt, size).set(frame);
        const row = at[i] as number;
        run.realSpectrum(frameAt, size, twiddles, work, bins, row);
        run.weighDown(row, bins, row + 8 * bins);
        const power = bandPowers(kernel.floats(row, 2 * bins), bins, edges);
        kernel.floats(row + 16 * bins, BROAD_BANDS).set(power);
        powers[i] = power;
      }
    });
  }
  const told = run.reserve(4 * BROAD_BANDS);
  return {
    compare(a, b, out, first) {
      const layout = rates.get(heads[a]?.sampleRate ?? 0);
      if (!layout || heads[b]?.sampleRate !== heads[a]?.sampleRate) {
        out.fill(0, first, first + COHERENCE_FIGURES);
        return;
      }
      const [headA, headB] = [heads[a] as ClearHead, heads[b] as ClearHead];
      const { size, bins, from, mostLag, edgesAt, foldedTwiddles, work } = layout;
      const [x, y] = [at[a] as number, at[b] as number];
      const lag = run.coherence(x, y, bins, size, from, mostLag, edgesAt, BROAD_BANDS, foldedTwiddles, work, told);
      const bands = kernel.floats(told, BROAD_BANDS);
      const [pa, pb] = [powers[a] as Float32Array, powers[b] as Float32Array];
      let [weight, mean] = [0, 0];
      for (let band = 0; band < BROAD_BANDS; band++) {
        const coherence = bands[band] as number;
        out[first + 1 + band] = coherence;
        out[first + 3 + BROAD_BANDS + band] = (headA.clear[band] as number) * (headB.clear[band] as number);
        if (band < MEAN_FROM) continue;
        const share = Math.sqrt((pa[band] as number) * (pb[band] as number));
        weight += share;
        mean += share * coherence;
      }
      out[first] = 1;
      out[first + 1 + BROAD_BANDS] = weight > 0 ? mean / weight : 0;
      out[first + 2 + BROAD_BANDS] = Math.abs(lag) / mostLag;
    },
  };
}

function twiddlesFor({ run }: Kernel, size: number): number {
  const at = run.reserve(12 * size);
  run.fillTwiddles(at, size);
  return at;
}

function bandPowers(spectrum: Float32Array, bins: number, edges: Int32Array): Float32Array {
  return Float32Array.from({ length: BROAD_BANDS }, (_, band) => {
    let sum = 0;
    for (let k = edges[band] as number; k < (edges[band + 1] as number); k++)
      sum += (spectrum[k] as number) ** 2 + (spectrum[bins + k] as number) ** 2;
    return sum;
  });
}
