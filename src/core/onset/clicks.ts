import { threadKernel } from '../kernel/kernel';

/** Longest click, and the stretches before and after it that its burst is compared with, in ms. */
const LONGEST_MS = 1.5;
const AROUND_MS = 6;
/** Stretches over which the level before and after is compared, in ms: longer than a period of the lowest drums' overtones. */
const LEVEL_MS = 20;
/** A click's burst exceeds its surroundings by this, and leaves the level at most this much higher. */
const STANDS_OVER_DB = 14;
const LEAVES_DB = 3;
/** After silence there is no earlier level: there a click must fall by this much. */
const FALLS_DB = 40;

/**
 * Whether the sound at `frame` is a click, as on worn records and at bad edits: a broadband burst shorter than 1.5 ms
 * after which the level is as before. Every struck object rings longer, or louder. The burst is detected in the second
 * difference of the signal, which suppresses tones and keeps sudden changes - the simplest of the predictors by which
 * S. Godsill, P. Rayner, "Digital audio restoration", 1998, chapter 5, find clicks.
 */
export function isClick(samples: Float32Array, sampleRate: number, frame: number): boolean {
  const ms = sampleRate / 1000;
  const half = (LONGEST_MS * ms) / 2;
  const reach = Math.ceil(half + LEVEL_MS * ms) + 1;
  // The mark may lie a little before or after the burst itself.
  const from = Math.max(0, Math.round(frame - 2 * ms) - reach);
  const end = Math.min(samples.length, Math.ceil(frame + 5 * ms) + reach);
  const kernel = threadKernel();
  return kernel.within(() => {
    const { run } = kernel;
    const last = end - from;
    // A zero on either side, for the differences at the ends.
    const first = run.reserve(4 * (last + 2)) + 4;
    const heard = kernel.floats(first - 4, last + 2);
    heard.set(samples.subarray(from, end), 1);
    heard[0] = 0;
    heard[last + 1] = 0;
    const loudest = run.mostSudden(
      first,
      Math.max(2, Math.round(frame - 2 * ms)) - from,
      Math.min(samples.length - 2, Math.ceil(frame + 5 * ms)) - from,
    );
    if (loudest < 0) return false;
    const power = (start: number, length: number, sudden: boolean) => {
      const a = Math.max(0, Math.round(start));
      const b = Math.min(last, Math.round(start + length));
      if (b <= a) return 0;
      return (sudden ? run.suddenEnergy(first, a, b) : run.plainEnergy(first, a, b)) / (b - a);
    };
    const burst = power(loudest - half, 2 * half, true);
    const before = loudest - half;
    const after = loudest + 2 * half;
    if (decibels(burst, power(before - AROUND_MS * ms, AROUND_MS * ms, true)) < STANDS_OVER_DB) return false;
    if (decibels(burst, power(after, AROUND_MS * ms, true)) < STANDS_OVER_DB) return false;
    const levelBefore = power(before - LEVEL_MS * ms, LEVEL_MS * ms, false);
    const levelAfter = power(after, LEVEL_MS * ms, false);
    const atBurst = power(before, 2 * half, false);
    return decibels(levelAfter, levelBefore) <= LEAVES_DB || decibels(atBurst, levelAfter) >= FALLS_DB;
  });
}

/** Ratio of two powers; a silent denominator counts as 100 dB under the numerator. */
function decibels(a: number, b: number): number {
  const floor = Math.max(a, b) * 1e-10;
  return floor === 0 ? 0 : 10 * Math.log10(Math.max(a, floor) / Math.max(b, floor));
}
