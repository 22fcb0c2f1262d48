import { threadKernel } from '../kernel/kernel';

/**
 * Linear-prediction coefficients of `samples[start, end)` by the autocorrelation method and Levinson-Durbin recursion
 * (J. Makhoul, "Linear prediction: a tutorial review", Proc. IEEE 63, 1975). Returns `a` with x[n] predicted as
 * sum(a[k] * x[n-1-k]). A little white noise (-90 dB) is added so that pure tones and silence stay well conditioned.
 */
export function linearPrediction(samples: Float32Array, start: number, end: number, order: number): Float64Array {
  const heard = samples.subarray(start, end);
  const { length } = heard;
  const kernel = threadKernel();
  const r = kernel.within(() => {
    const at = kernel.layWide(heard);
    const out = kernel.run.reserve(8 * (order + 1));
    kernel.run.autocorrelation(at, length, order, out);
    return kernel.doubles(out, order + 1).slice();
  });
  r[0] = (r[0] as number) * (1 + 1e-9) + length * 1e-14;
  const a = new Float64Array(order);
  const previous = new Float64Array(order);
  let error = r[0] as number;
  for (let i = 0; i < order; i++) {
    let acc = r[i + 1] as number;
    for (let k = 0; k < i; k++) acc -= (a[k] as number) * (r[i - k] as number);
    const reflection = acc / error;
    previous.set(a);
    a[i] = reflection;
    for (let k = 0; k < i; k++) a[k] = (previous[k] as number) - reflection * (previous[i - 1 - k] as number);
    error *= 1 - reflection * reflection;
    if (error <= 0) break;
  }
  return a;
}

/** Prediction errors of `samples[start, end)`; samples before the array count as zero. */
export function predictionResidual(samples: Float32Array, start: number, end: number, a: Float64Array): Float64Array {
  const order = a.length;
  const length = end - start;
  // The samples that the first predictions look back to stand before them, so that no step has to ask where it is.
  const from = Math.max(0, start - order);
  const kernel = threadKernel();
  return kernel.within(() => {
    const at = kernel.layWide(samples.subarray(from, end), order - (start - from));
    const weights = kernel.lay(a);
    const out = kernel.run.reserve(8 * length);
    kernel.run.residual(at, length, weights, order, out);
    return kernel.doubles(out, length).slice();
  });
}

/** Running sums of the squares of prediction errors, with a nought before them. */
export function runningEnergy(residual: Float64Array): Float64Array {
  const kernel = threadKernel();
  return kernel.within(() => {
    const at = kernel.lay(residual);
    const out = kernel.run.reserve(8 * (residual.length + 1));
    kernel.run.energies(at, residual.length, out);
    return kernel.doubles(out, residual.length + 1).slice();
  });
}
