import { threadKernel } from '../kernel/kernel';

/** Sound minus its linear prediction. Views of the kernel's memory: valid until the next reservation. */
export interface Whitened {
  /** Prediction errors, one a frame. */
  readonly residual: Float64Array;
  /** Running sums of their squares, after a zero, and their address in the kernel's memory. */
  readonly energy: Float64Array;
  readonly energyAt: number;
  /** x[n] is predicted as sum(a[k] * x[n-1-k]). */
  readonly coefficients: Float64Array;
}

/**
 * Whitens `samples[start, end)` by linear prediction fitted to `samples[start, learnEnd)`, and passes it to `look`: the
 * autocorrelation method and Levinson-Durbin recursion (J. Makhoul, "Linear prediction: a tutorial review", Proc. IEEE
 * 63, 1975). A little white noise (-90 dB) is added for the fit, so that pure tones and silence stay well conditioned.
 * Samples before the array count as zero.
 */
export function whiten<T>(
  samples: Float32Array,
  { start, learnEnd, end }: { readonly start: number; readonly learnEnd: number; readonly end: number },
  order: number,
  look: (whitened: Whitened) => T,
): T {
  const length = end - start;
  const learnt = learnEnd - start;
  // The samples that the first predictions need come before them, so that no step has to check its position.
  const from = Math.max(0, start - order);
  const kernel = threadKernel();
  const { run } = kernel;
  return kernel.within(() => {
    const lead = kernel.layWide(samples.subarray(from, end), order - (start - from));
    const r = run.reserve(8 * (order + 1));
    run.autocorrelation(lead + 8 * order, learnt, order, r);
    const lags = kernel.doubles(r, order + 1);
    lags[0] = (lags[0] as number) * (1 + 1e-9) + learnt * 1e-14;
    const a = run.reserve(8 * order);
    run.levinson(r, order, a, run.reserve(8 * order));
    const errors = run.reserve(8 * length);
    run.residual(lead, length, a, order, errors);
    const energyAt = run.reserve(8 * (length + 1));
    run.energies(errors, length, energyAt);
    return look({
      residual: kernel.doubles(errors, length),
      energy: kernel.doubles(energyAt, length + 1),
      energyAt,
      coefficients: kernel.doubles(a, order),
    });
  });
}
