import { Kernel } from '../kernel/kernel';

/**
 * The complex transform of one size for the audio thread: values are put into and taken from views of the kernel's memory,
 * so that nothing is allocated. One serves all rooms of a thread.
 */
export class Transform {
  private readonly kernel = new Kernel();
  private readonly row: number;
  private readonly other: number;
  private readonly twiddles: number;
  /** Real and imaginary parts to transform. */
  readonly re: Float32Array;
  readonly im: Float32Array;
  private readonly otherRe: Float32Array;
  private readonly otherIm: Float32Array;
  /** The parts of the result; valid until the next one. */
  outRe: Float32Array;
  outIm: Float32Array;

  constructor(readonly size: number) {
    const { kernel } = this;
    this.row = kernel.run.reserve(8 * size);
    this.other = kernel.run.reserve(8 * size);
    this.twiddles = kernel.run.reserve(12 * size);
    kernel.run.fillTwiddles(this.twiddles, size);
    this.re = kernel.floats(this.row, size);
    this.im = kernel.floats(this.row + 4 * size, size);
    this.otherRe = kernel.floats(this.other, size);
    this.otherIm = kernel.floats(this.other + 4 * size, size);
    this.outRe = this.re;
    this.outIm = this.im;
  }

  /** Transforms what was put in; not scaled. */
  run(): void {
    const at = this.kernel.run.transform(this.row, this.other, this.size, this.twiddles);
    this.outRe = at === this.row ? this.re : this.otherRe;
    this.outIm = at === this.row ? this.im : this.otherIm;
  }
}
