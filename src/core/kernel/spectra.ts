import { hann } from '../signal/window';
import { threadKernel } from './kernel';

/**
 * Magnitudes, size / 2 + 1 each, of the Hann-windowed frames at two positions, divided by the size; overwritten by the
 * next call.
 */
export type MagnitudePair = (a: number, b: number) => readonly [Float32Array, Float32Array];

/** Computes spectra of frames of one size; its tables are computed once. */
export class Spectra {
  private readonly window: Float32Array;
  private readonly twiddles: Float32Array;
  private readonly bins: number;

  /** `size` is a power of two, 16 at least. */
  constructor(private readonly size: number) {
    const kernel = threadKernel();
    this.window = Float32Array.from(hann(size));
    this.bins = size / 2 + 1;
    this.twiddles = kernel.within(() => {
      const at = kernel.run.reserve(12 * size);
      kernel.run.fillTwiddles(at, size);
      return kernel.floats(at, 3 * size).slice();
    });
  }

  /** Copies samples into memory and gives `work` a function for spectra of them; samples outside count as 0. */
  of<T>(samples: Float32Array, work: (pair: MagnitudePair) => T): T {
    const { size, bins } = this;
    const kernel = threadKernel();
    const { run } = kernel;
    return kernel.within(() => {
      const [laid, window, twiddles] = [kernel.lay(samples), kernel.lay(this.window), kernel.lay(this.twiddles)];
      const scratch = run.reserve(16 * size);
      // Up to three floats after each row are written over.
      const [outA, outB] = [run.reserve(4 * (bins + 3)), run.reserve(4 * (bins + 3))];
      return work((a, b) => {
        run.magnitudePair(laid, samples.length, a, b, size, window, twiddles, scratch, outA, outB);
        return [kernel.floats(outA, bins), kernel.floats(outB, bins)];
      });
    });
  }
}

const known = new Map<number, Spectra>();

/** The thread's spectra of a size, made on first use. */
export function spectraOf(size: number): Spectra {
  const spectra = known.get(size) ?? new Spectra(size);
  known.set(size, spectra);
  return spectra;
}
