import type { Kernel } from '../kernel/kernel';
import { BROAD_BANDS, BROAD_EDGES_HZ } from './bands';
import { type Head, headReach } from './head';
import { BANDS, bandMiddles, type Sketch } from './sketch';

/** Frequencies under this hardly help to find the lag. */
const LAG_FROM_HZ = 340;
/** Bins that the kernel sums before it searches for the lag. */
const FOLD = 8;
/** Starts of one drum are marked at most this far apart, in seconds. */
const MOST_LAG_S = 0.0025;
/** A lag of this many seconds gives the figure 1. */
const WHOLE_LAG_S = 0.003;
/**
 * Figures of a pair: 1 where the waves could be compared; coherence in each band and its mean; the lag; and the highest
 * coherence possible in each band, given what rang on before each sound.
 */
export const COHERENCE_FIGURES = 2 * BROAD_BANDS + 3;
/** Cells of a sketch that a head covers. */
const HEAD_CELLS = 3;

/** Spectrum layout for heads of one sample rate. */
interface Layout {
  readonly size: number;
  readonly bins: number;
  readonly from: number;
  readonly mostLag: number;
  readonly wholeLag: number;
  readonly edges: Int32Array;
  readonly window: Float32Array;
}

/** The layout as it lies in the kernel's memory. */
interface LaidLayout extends Layout {
  readonly at: number;
  /** Twiddle factors of a transform of `size`. */
  readonly twiddles: number;
}

function layoutOf(sampleRate: number): Layout {
  const { before, after } = headReach(sampleRate);
  // As many bins as a head has frames hold all of it. Lags are circular then, and the end of a longer head wraps onto
  // its beginning: both are faded where they overlap.
  const size = 2 ** Math.round(Math.log2(before + after));
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
    wholeLag: Math.round(WHOLE_LAG_S * sampleRate),
    edges,
    window: Float32Array.from({ length: before + after }, (_, i) => (i < before ? rise(i) : fall(i - before))),
  };
}

/** A head, and for each band the root of the share of its power that cannot come from the sound before. */
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

/**
 * Compares the waves of heads: coherence of two heads in each band at the lag of greatest similarity (C. Knapp, G.
 * Carter, "The generalized correlation method for estimation of time delay", IEEE Trans. ASSP 24, 1976; cross-spectra
 * are weighted by the root of their magnitude). Strokes of one sample are coherent in all bands at any level; another
 * sound lowers the coherence in its own bands.
 */
export class Heads {
  private readonly rates = new Map<number, LaidLayout>();

  /** `kernel` should be used for nothing else: heads stay in its memory. */
  constructor(private readonly kernel: Kernel) {}

  /**
   * Stores a head and returns its address for the kernel's `coherenceFigures`, which gives 0 for heads of different
   * sample rates.
   */
  lay({ sampleRate, samples, clear }: ClearHead): number {
    const { kernel } = this;
    const { run } = kernel;
    const layout = this.layoutFor(sampleRate);
    const { size, bins, edges, window } = layout;
    const spectrum = run.reserve(16 * bins + 8 * BROAD_BANDS);
    kernel.within(() => {
      const frame = new Float32Array(size);
      for (let k = 0; k < window.length; k++)
        frame[k % size] = (frame[k % size] as number) + (window[k] as number) * (samples[k] as number);
      run.realSpectrum(kernel.lay(frame), size, layout.twiddles, run.reserve(16 * size), bins, spectrum);
    });
    run.weighDown(spectrum, bins, spectrum + 8 * bins);
    const told = kernel.floats(spectrum + 16 * bins, 2 * BROAD_BANDS);
    told.set(bandPowers(kernel.floats(spectrum, 2 * bins), bins, edges));
    told.set(clear, BROAD_BANDS);
    return kernel.lay(Int32Array.of(layout.at, spectrum));
  }

  private layoutFor(sampleRate: number): LaidLayout {
    const known = this.rates.get(sampleRate);
    if (known) return known;
    const { kernel } = this;
    const layout = layoutOf(sampleRate);
    const { bins, size, from, mostLag, wholeLag, edges } = layout;
    const folded = size / FOLD;
    const words = [kernel.lay(edges), twiddlesFor(kernel, folded), kernel.run.reserve(16 * folded)];
    const at = kernel.lay(Int32Array.of(bins, size, from, mostLag, wholeLag, ...words));
    const laid = { ...layout, at, twiddles: twiddlesFor(kernel, size) };
    this.rates.set(sampleRate, laid);
    return laid;
  }
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
