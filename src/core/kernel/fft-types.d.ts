declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    readonly size: number;
    createComplexArray(): number[];
    /** Half of the spectrum, the bins from 0 to size / 2. */
    realTransform(out: ArrayLike<number>, data: ArrayLike<number>): void;
    transform(out: ArrayLike<number>, data: ArrayLike<number>): void;
    inverseTransform(out: ArrayLike<number>, data: ArrayLike<number>): void;
  }
}
