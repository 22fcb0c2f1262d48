import FFT from 'fft.js';
import { hann } from './window';

/**
 * Power spectra of two real frames at a time. Two windowed real frames travel as the real and imaginary part of one
 * complex transform and are parted by symmetry (Oppenheim & Schafer, "Discrete-Time Signal Processing", section 8.6).
 * That halves the work against one transform a frame.
 */
export class PairedSpectrum {
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly input: Float64Array;
  private readonly output: Float64Array;

  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.window = hann(size);
    this.input = new Float64Array(2 * size);
    this.output = new Float64Array(2 * size);
  }

  /**
   * Writes magnitude spectra (size/2 + 1 bins each) of the frames of `samples` that begin at `startA` and `startB` into
   * `outA` and `outB`; samples outside the array count as zero. Scaling: a full-scale sine has magnitude near 0.5.
   */
  magnitudes(samples: Float32Array, startA: number, startB: number, outA: Float64Array, outB: Float64Array): void {
    const { size, input, output, window } = this;
    const length = samples.length;
    if (Math.min(startA, startB) >= 0 && Math.max(startA, startB) + size <= length) {
      for (let i = 0; i < size; i++) {
        const w = window[i] as number;
        input[2 * i] = w * (samples[startA + i] as number);
        input[2 * i + 1] = w * (samples[startB + i] as number);
      }
    } else {
      for (let i = 0; i < size; i++) {
        const w = window[i] as number;
        const a = startA + i;
        const b = startB + i;
        input[2 * i] = a >= 0 && a < length ? w * (samples[a] as number) : 0;
        input[2 * i + 1] = b >= 0 && b < length ? w * (samples[b] as number) : 0;
      }
    }
    this.fft.transform(output, input);
    const scale = 1 / size; // 0.5 for the split of the pair, times 2 for the window's mean of one half
    for (let k = 0; k <= size / 2; k++) {
      const m = (size - k) % size;
      const pr = output[2 * k] as number;
      const pi = output[2 * k + 1] as number;
      const qr = output[2 * m] as number;
      const qi = output[2 * m + 1] as number;
      const ar = pr + qr;
      const ai = pi - qi;
      const br = pi + qi;
      const bi = qr - pr;
      outA[k] = Math.sqrt(ar * ar + ai * ai) * scale;
      outB[k] = Math.sqrt(br * br + bi * bi) * scale;
    }
  }
}
