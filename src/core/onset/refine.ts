import { threadKernel } from '../kernel/kernel';
import { type Whitened, whiten } from './lpc';

/** Where a sound first rises, and the rise of the whitened signal in dB. */
export interface RefinedStart {
  readonly frame: number;
  readonly riseDb: number;
  /** The whitened signal around it, and its first frame. */
  readonly residual: Float64Array;
  readonly residualStart: number;
}

/** Analysis windows of a candidate. All were tuned on the tuning set; see docs/onsets.md. */
const ORDER = 20;
const LEARN_MS = 30;
/** Lengths of the two stretches whose powers are compared. */
const BEFORE_MS = 6;
const AFTER_MS = 3;
/** What counts as the sound itself, for its loudness. */
const SOUND_MS = 8;
/** How far after the span the signal is whitened: it includes the sound wherever it begins. */
const SHOWN_MS = 18;
/** Stepping back over the rise stops after this long a quiet stretch. */
const QUIET_MS = 1.2;
/** Powers under this are equal: -110 dBFS, under the noise of 16-bit audio. */
const TINY = 1e-11;

/**
 * Places the start of a sound on the samples, given the frame span [from, to) in which it must lie.
 *
 * What sounds before is whitened away by linear prediction learnt from the 30 ms before `from`; the start is then the most
 * likely point at which the variance of the prediction error changes (the autoregressive change-point picker of
 * T. Takanami & G. Kitagawa, "A new efficient procedure for the estimation of onset times of seismic waves",
 * J. Phys. Earth 36, 1988). Its likelihood is that of one variance against two over a short window on either side (the
 * generalised likelihood ratio of M. Basseville & I. Nikiforov, "Detection of abrupt changes", 1993, section 2.4): what
 * sounds dies away meanwhile, and over a longer window that alone would look like a change. From there it steps back to the
 * first frame of the rise that already stands out of what was before, since an attack may swell before it bursts.
 */
export function refineStart(samples: Float32Array, sampleRate: number, from: number, to: number): RefinedStart {
  const ms = sampleRate / 1000;
  const first = Math.max(0, from);
  const last = Math.min(samples.length, to);
  const stop = Math.min(samples.length, last + Math.round(SHOWN_MS * ms));
  const learnStart = Math.max(0, first - Math.round(LEARN_MS * ms));
  if (stop - first < 8) return { frame: first, riseDb: 0, residual: new Float64Array(0), residualStart: first };

  const learnEnd = Math.max(first, learnStart + 1);
  return whiten(samples, { start: learnStart, learnEnd, end: stop }, ORDER, (whitened) => {
    const span = { from: first - learnStart, to: last - learnStart };
    const { start, riseDb } = startIn(whitened, span, ms);
    return { frame: learnStart + start, riseDb, residual: whitened.residual.slice(), residualStart: learnStart };
  });
}

/** The start in [from, to), as frames from the first whitened one. */
function startIn(
  { residual, energy, energyAt }: Whitened,
  { from, to }: { readonly from: number; readonly to: number },
  ms: number,
): { start: number; riseDb: number } {
  const end = residual.length;
  const [beforeFrames, afterFrames] = [Math.round(BEFORE_MS * ms), Math.round(AFTER_MS * ms)];
  const best = threadKernel().run.likeliestChange(energyAt, end, from, to, beforeFrames, afterFrames);
  const reach = Math.max(0, best - beforeFrames);
  const before = Math.sqrt(((energy[best] as number) - (energy[reach] as number)) / Math.max(1, best - reach) + TINY);
  const loud = peak(residual, best, Math.min(end, best + Math.round(SOUND_MS * ms)));
  const threshold = Math.max(4 * before, loud * 0.01);
  const gap = Math.max(2, Math.round(QUIET_MS * ms));
  let start = best;
  for (let i = best - 1, quiet = 0; i >= from && quiet < gap; i--) {
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
  const span = Math.min(Math.round(SOUND_MS * ms), end - start);
  const after = ((energy[start + span] as number) - (energy[start] as number)) / Math.max(1, span) + TINY;
  // Compared with the whole background: a few milliseconds of noise may be quiet by chance.
  const whole = (energy[best] as number) / Math.max(1, best) + TINY;
  return { start, riseDb: 10 * Math.log10(after / Math.max(whole, before * before)) };
}

function peak(values: Float64Array, from: number, to: number): number {
  let best = 0;
  for (let i = from; i < to; i++) best = Math.max(best, Math.abs(values[i] as number));
  return best;
}
