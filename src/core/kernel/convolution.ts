import { Fft } from './fft';

/** A channel through an impulse response of any length, `a.length + b.length - 1` frames: overlap-add by transforms. */
export function convolved(a: Float32Array, b: Float32Array): Float32Array {
  // Convolution is symmetric: the shorter one sets the size of the transforms.
  const [x, h] = a.length < b.length ? [b, a] : [a, b];
  const out = new Float32Array(Math.max(0, x.length + h.length - 1));
  if (x.length === 0 || h.length === 0) return new Float32Array(0);
  const size = 2 ** Math.ceil(Math.log2(Math.max(32, 2 * h.length)));
  const step = size - h.length + 1;
  const fft = new Fft(size);
  const frame = new Float32Array(size);
  frame.set(h);
  const response = fft.forward(frame);
  for (let at = 0; at < x.length; at += step) {
    frame.fill(0);
    frame.set(x.subarray(at, Math.min(x.length, at + step)));
    const { re, im } = fft.forward(frame);
    for (let k = 0; k < re.length; k++) {
      const [real, imaginary] = [re[k] as number, im[k] as number];
      re[k] = real * (response.re[k] as number) - imaginary * (response.im[k] as number);
      im[k] = real * (response.im[k] as number) + imaginary * (response.re[k] as number);
    }
    const piece = fft.inverse(re, im);
    for (let i = 0; i < size && at + i < out.length; i++) out[at + i] = (out[at + i] as number) + (piece[i] as number);
  }
  return out;
}
