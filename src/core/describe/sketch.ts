import { type Spectra, spectraOf } from '../kernel/spectra';

/**
 * A compact time-frequency picture of a sound: mean power by band over cells that grow longer, because the beginning
 * matters most to the ear. Family, sameness and isolation are all computed from it.
 */
export interface Sketch {
  /** `BANDS` mean powers for each of the `cells` cells within the sound, at least one. */
  readonly powers: Float32Array;
  readonly cells: number;
  /** `BANDS` mean powers just before the start: what was still ringing. */
  readonly before: Float32Array;
  /** The same one window earlier, for the rate of its decay. */
  readonly earlier: Float32Array;
}

export const BANDS = 24;
/** Start of each cell in steps of half a window from the sound's start; the last cell ends at the last figure. */
export const CELL_STEPS = [0, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96] as const;
export const CELLS = CELL_STEPS.length - 1;
/** Window length in seconds (about 23 ms): bins are 43 Hz apart. */
export const WINDOW_S = 0.0232;
const LOWEST_HZ = 43;
const HIGHEST_HZ = 16000;
/** A window that ends this long before the start holds none of the sound, even where the start is marked late. */
const CLEAR_S = 0.003;

export function windowFrames(sampleRate: number): number {
  return 2 ** Math.round(Math.log2(WINDOW_S * sampleRate));
}

/** Length of a cell, in seconds. */
export function cellSpanSeconds(cell: number): number {
  return (((CELL_STEPS[cell + 1] as number) - (CELL_STEPS[cell] as number)) / 2) * WINDOW_S;
}

/** Time from the start to the middle of a cell, in seconds. */
export function cellSeconds(cell: number): number {
  return (((CELL_STEPS[cell] as number) + (CELL_STEPS[cell + 1] as number)) / 4) * WINDOW_S;
}

/**
 * First bin of each band and, last, the end of the last band: equal in octaves, but at least one bin wide, which
 * matters up to about 300 Hz. Bands are the same in hertz at every sample rate, as far as bins allow; those above the
 * Nyquist frequency are empty.
 */
function bandEdges(size: number, sampleRate: number): Int32Array {
  const bin = sampleRate / size;
  const edges = new Int32Array(BANDS + 1);
  for (let b = 0; b <= BANDS; b++) {
    const hz = LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** (b / BANDS);
    edges[b] = Math.min(size / 2, Math.max(b === 0 ? 1 : (edges[b - 1] as number) + 1, Math.round(hz / bin)));
  }
  return edges;
}

const middles = new Map<number, Float64Array>();

/** Middles of the bands in hertz at a sample rate. */
export function bandMiddles(sampleRate: number): Float64Array {
  const known = middles.get(sampleRate);
  if (known) return known;
  const size = windowFrames(sampleRate);
  const edges = bandEdges(size, sampleRate);
  const found = Float64Array.from(
    { length: BANDS },
    (_, b) => (Math.sqrt((edges[b] as number) * (edges[b + 1] as number)) * sampleRate) / size,
  );
  middles.set(sampleRate, found);
  return found;
}

/** Makes sketches of sounds of one sample rate. */
export class Sketcher {
  private readonly size: number;
  private readonly spectra: Spectra;
  private readonly edges: Int32Array;

  constructor(readonly sampleRate: number) {
    this.size = windowFrames(sampleRate);
    this.spectra = spectraOf(this.size);
    this.edges = bandEdges(this.size, sampleRate);
  }

  /** Frames before the start and after it that a sketch reads. */
  get reach(): { readonly before: number; readonly after: number } {
    return {
      before: 2 * this.size + Math.ceil(CLEAR_S * this.sampleRate),
      after: ((CELL_STEPS[CELLS] as number) + 1) * (this.size / 2),
    };
  }

  /** The sketch of [start, end) of one channel. */
  sketch(samples: Float32Array, start: number, end: number): Sketch {
    const { size } = this;
    const half = size / 2;
    const inside = samples.subarray(Math.max(0, start), Math.min(samples.length, end, start + this.reach.after));
    const powers = new Float32Array(CELLS * BANDS);
    let cells = 0;
    this.meanPowers(inside, (mean) => {
      for (let cell = 0; cell < CELLS; cell++) {
        const [from, to] = [CELL_STEPS[cell] as number, CELL_STEPS[cell + 1] as number];
        // A window past the end is half empty: only the first cell may have one.
        if (cell > 0 && from * half + size > inside.length) break;
        const last = cell === 0 ? to : Math.min(to, Math.floor((inside.length - size) / half) + 1);
        mean(from * half, last - from, powers.subarray(cell * BANDS, (cell + 1) * BANDS));
        cells++;
      }
    });
    const before = new Float32Array(BANDS);
    const earlier = new Float32Array(BANDS);
    const clear = start - Math.ceil(CLEAR_S * this.sampleRate);
    const from = Math.max(0, clear - 2 * size);
    this.meanPowers(samples.subarray(from, Math.max(0, clear)), (mean) => {
      if (clear >= size) mean(clear - size - from, 1, before);
      if (clear >= 2 * size) mean(clear - 2 * size - from, 1, earlier);
    });
    return { powers: powers.slice(0, cells * BANDS), cells, before, earlier };
  }

  /** Gives `work` a function for mean powers by band over windows half a window apart. */
  private meanPowers(
    samples: Float32Array,
    work: (mean: (at: number, count: number, out: Float32Array) => void) => void,
  ): void {
    const { size } = this;
    this.spectra.of(samples, (pair) =>
      work((at, count, out) => {
        for (let n = 0; n < count; n += 2) {
          const first = at + (n * size) / 2;
          const [a, b] = pair(first, first + size / 2);
          this.add(a, out);
          if (n + 1 < count) this.add(b, out);
        }
        for (let band = 0; band < BANDS; band++) out[band] = (out[band] as number) / count;
      }),
    );
  }

  private add(magnitudes: Float32Array, out: Float32Array): void {
    const { edges } = this;
    for (let b = 0; b < BANDS; b++) {
      let sum = 0;
      const last = edges[b + 1] as number;
      for (let k = edges[b] as number; k < last; k++) sum += (magnitudes[k] as number) ** 2;
      out[b] = (out[b] as number) + sum;
    }
  }
}
