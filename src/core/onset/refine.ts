import { linearPrediction, predictionResidual } from './lpc';

/** Where a sound first rises, and how much louder the whitened signal is after than before, in dB. */
export interface RefinedStart {
  readonly frame: number;
  readonly riseDb: number;
}

const ORDER = 12;
const LEARN_MS = 40;
const AFTER_MS = 8;

/**
 * Places the start of a sound on the samples, given the frame span [from, to) in which it must lie.
 *
 * What sounds before is whitened away by linear prediction learnt from the 40 ms before `from`; the start is then the most
 * likely point at which the variance of the prediction error changes (the autoregressive change-point picker of
 * T. Takanami & G. Kitagawa, "A new efficient procedure for the estimation of onset times of seismic waves",
 * J. Phys. Earth 36, 1988, with two variances and the model fixed before the change). From there it steps back to the
 * first frame of the rise that already stands out of what was before, since an attack may swell before it bursts.
 */
export function refineStart(samples: Float32Array, sampleRate: number, from: number, to: number): RefinedStart {
  const learn = Math.round((LEARN_MS / 1000) * sampleRate);
  const after = Math.round((AFTER_MS / 1000) * sampleRate);
  const first = Math.max(0, from);
  const last = Math.min(samples.length, to);
  const stop = Math.min(samples.length, last + after);
  const learnStart = Math.max(0, first - learn);
  if (stop - first < 8) return { frame: first, riseDb: 0 };

  const a = linearPrediction(samples, learnStart, Math.max(first, learnStart + 1), ORDER);
  const residual = predictionResidual(samples, learnStart, stop, a);
  const energy = new Float64Array(residual.length + 1);
  for (let i = 0; i < residual.length; i++) energy[i + 1] = (energy[i] as number) + (residual[i] as number) ** 2;
  const base = first - learnStart;
  const end = residual.length;
  /** Power below which nothing is told apart: -110 dBFS, under the noise of 16-bit audio. */
  const tiny = 1e-11;

  let best = base;
  let bestScore = Number.NEGATIVE_INFINITY;
  for (let k = base; k < last - learnStart; k++) {
    const n1 = k;
    const n2 = end - k;
    const v1 = (energy[k] as number) / Math.max(1, n1) + tiny;
    const v2 = ((energy[end] as number) - (energy[k] as number)) / n2 + tiny;
    if (v2 <= v1) continue;
    const score = -0.5 * (n1 * Math.log(v1) + n2 * Math.log(v2));
    if (score > bestScore) {
      bestScore = score;
      best = k;
    }
  }

  const before = Math.sqrt((energy[best] as number) / Math.max(1, best) + tiny);
  const loud = peak(residual, best, Math.min(end, best + after));
  const threshold = Math.max(4 * before, loud * 0.01);
  const gap = Math.max(2, Math.round(0.0008 * sampleRate));
  let start = best;
  for (let i = best - 1, quiet = 0; i >= base && quiet < gap; i--) {
    if (Math.abs(residual[i] as number) > threshold) {
      start = i;
      quiet = 0;
    } else quiet++;
  }
  // A change point a little early is stepped forward to the first sample that stands out.
  if (start === best) {
    for (let i = best; i < Math.min(end, best + gap * 2); i++) {
      if (Math.abs(residual[i] as number) > threshold) {
        start = i;
        break;
      }
    }
  }
  const span = Math.min(after, end - start);
  const v2 = ((energy[start + span] as number) - (energy[start] as number)) / Math.max(1, span) + tiny;
  return { frame: learnStart + start, riseDb: 10 * Math.log10(v2 / (before * before)) };
}

function peak(values: Float64Array, from: number, to: number): number {
  let best = 0;
  for (let i = from; i < to; i++) best = Math.max(best, Math.abs(values[i] as number));
  return best;
}
