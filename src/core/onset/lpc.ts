/**
 * Linear-prediction coefficients of `samples[start, end)` by the autocorrelation method and Levinson-Durbin recursion
 * (J. Makhoul, "Linear prediction: a tutorial review", Proc. IEEE 63, 1975). Returns `a` with x[n] predicted as
 * sum(a[k] * x[n-1-k]). A little white noise (-90 dB) is added so that pure tones and silence stay well conditioned.
 */
export function linearPrediction(samples: Float32Array, start: number, end: number, order: number): Float64Array {
  const length = end - start;
  const r = new Float64Array(order + 1);
  for (let lag = 0; lag <= order; lag++) {
    let sum = 0;
    for (let i = start + lag; i < end; i++) sum += (samples[i] as number) * (samples[i - lag] as number);
    r[lag] = sum;
  }
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
  const out = new Float64Array(end - start);
  for (let n = start; n < end; n++) {
    let guess = 0;
    for (let k = 0; k < a.length; k++) {
      const i = n - 1 - k;
      if (i < 0) break;
      guess += (a[k] as number) * (samples[i] as number);
    }
    out[n - start] = (samples[n] as number) - guess;
  }
  return out;
}
