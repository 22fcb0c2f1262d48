import { threadKernel } from './kernel';

/** Real and imaginary parts of the bins from 0 to half the sample rate, `size / 2 + 1` of them. */
export interface HalfSpectrum {
  readonly re: Float32Array;
  readonly im: Float32Array;
}

const tables = new Map<number, Float32Array>();

function twiddlesOf(size: number): Float32Array {
  const known = tables.get(size);
  if (known) return known;
  const kernel = threadKernel();
  const made = kernel.within(() => {
    const at = kernel.run.reserve(12 * size);
    kernel.run.fillTwiddles(at, size);
    return kernel.floats(at, 3 * size).slice();
  });
  tables.set(size, made);
  return made;
}

/** The discrete Fourier transform of real frames of one size, and its inverse, in single precision. */
export class Fft {
  private readonly twiddles: Float32Array;

  /** `size` is a power of two, 16 at least. */
  constructor(readonly size: number) {
    this.twiddles = twiddlesOf(size);
  }

  /** The spectrum of `size` real values. */
  forward(frame: Float32Array): HalfSpectrum {
    const bins = this.size / 2 + 1;
    const [re, im] = this.transform(frame, null);
    return { re: re.slice(0, bins), im: im.slice(0, bins) };
  }

  /** The real values of a spectrum: the inverse of `forward`. */
  inverse(re: Float32Array, im: Float32Array): Float32Array {
    const { size } = this;
    // The transform of a spectrum with its parts exchanged is the inverse with its parts exchanged.
    const [real, imaginary] = [new Float32Array(size), new Float32Array(size)];
    for (let b = 0; b <= size / 2; b++) {
      real[b] = im[b] as number;
      imaginary[b] = re[b] as number;
      if (b > 0 && b < size / 2) {
        real[size - b] = -(im[b] as number);
        imaginary[size - b] = re[b] as number;
      }
    }
    const [, values] = this.transform(real, imaginary);
    return values.map((x) => x / size);
  }

  private transform(re: Float32Array, im: Float32Array | null): readonly [Float32Array, Float32Array] {
    const { size } = this;
    const kernel = threadKernel();
    return kernel.within(() => {
      const row = kernel.run.reserve(8 * size);
      const other = kernel.run.reserve(8 * size);
      const twiddles = kernel.lay(this.twiddles);
      kernel.floats(row, size).set(re);
      const second = kernel.floats(row + 4 * size, size);
      if (im) second.set(im);
      else second.fill(0);
      const at = kernel.run.transform(row, other, size, twiddles);
      return [kernel.floats(at, size).slice(), kernel.floats(at + 4 * size, size).slice()] as const;
    });
  }
}
