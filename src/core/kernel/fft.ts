import { Kernel } from './kernel';

/** Real and imaginary parts of the bins from 0 to half the sample rate, `size / 2 + 1` of them. */
export interface HalfSpectrum {
  readonly re: Float32Array;
  readonly im: Float32Array;
}

/** Addresses in the transforms' own kernel: two complex rows to work in, and the twiddle factors. */
interface Places {
  readonly row: number;
  readonly other: number;
  readonly twiddles: number;
}

/** Sizes up to this stay in memory once they have been used; larger ones are rare. */
const KEPT_SIZE = 1 << 15;

let kernel: Kernel | null = null;
const kept = new Map<number, Places>();

function reserve(size: number, own: Kernel): Places {
  const [row, other, twiddles] = [own.run.reserve(8 * size), own.run.reserve(8 * size), own.run.reserve(12 * size)];
  own.run.fillTwiddles(twiddles, size);
  return { row, other, twiddles };
}

/** Runs `work` with the places of a size in a kernel of the transforms' own. */
function withPlaces<T>(size: number, work: (places: Places, own: Kernel) => T): T {
  kernel ??= new Kernel();
  const own = kernel;
  if (size > KEPT_SIZE) return own.within(() => work(reserve(size, own), own));
  const places = kept.get(size) ?? reserve(size, own);
  kept.set(size, places);
  return work(places, own);
}

/** The discrete Fourier transform of real frames of one size, and its inverse, in single precision. */
export class Fft {
  /** `size` is a power of two, 16 at least. */
  constructor(readonly size: number) {}

  /** The spectrum of `size` real values. */
  forward(frame: Float32Array): HalfSpectrum {
    const { size } = this;
    return withPlaces(size, ({ row, other, twiddles }, own) => {
      own.floats(row, size).set(frame);
      own.floats(row + 4 * size, size).fill(0);
      const at = own.run.transform(row, other, size, twiddles);
      const bins = size / 2 + 1;
      return { re: own.floats(at, bins).slice(), im: own.floats(at + 4 * size, bins).slice() };
    });
  }

  /** The real values of a spectrum: the inverse of `forward`. */
  inverse(re: Float32Array, im: Float32Array): Float32Array {
    const { size } = this;
    return withPlaces(size, ({ row, other, twiddles }, own) => {
      // The transform of a spectrum with its parts exchanged is the inverse with its parts exchanged. Without the negative
      // frequencies and with the positive ones doubled, its real part is the same.
      const real = own.floats(row, size);
      const imaginary = own.floats(row + 4 * size, size);
      const half = size / 2;
      for (let b = 0; b <= half; b++) {
        const scale = b === 0 || b === half ? 1 / size : 2 / size;
        real[b] = scale * (im[b] as number);
        imaginary[b] = scale * (re[b] as number);
      }
      real.fill(0, half + 1);
      imaginary.fill(0, half + 1);
      const at = own.run.transform(row, other, size, twiddles);
      return own.floats(at + 4 * size, size).slice();
    });
  }
}
