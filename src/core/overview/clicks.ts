/** How long a click may be, and the stretches before and after it that its level is held against, in ms. */
const LONGEST_MS = 1.5;
const AROUND_MS = 6;
/** A click stands this far over what is before it, and what is after it is no louder than before by this much. */
const STANDS_OVER_DB = 14;
const LEAVES_DB = 4;

/**
 * Whether the sound at `frame` is a click, as worn records and bad edits have them: over within 1.5 ms, leaving the level
 * as it was. Every struck thing rings longer than that. (Impulsive disturbances as defined by S. Godsill, P. Rayner,
 * "Digital audio restoration", 1998, chapter 5: short, large, additive.)
 */
export function isClick(samples: Float32Array, sampleRate: number, frame: number): boolean {
  const ms = sampleRate / 1000;
  // The mark may lie a little before the burst itself.
  let loudest = frame;
  for (let i = frame; i < Math.min(samples.length, frame + 4 * ms); i++)
    if (Math.abs(samples[i] as number) > Math.abs(samples[loudest] as number)) loudest = i;
  const half = (LONGEST_MS * ms) / 2;
  const burst = power(samples, loudest - half, loudest + half);
  const before = power(samples, loudest - half - AROUND_MS * ms, loudest - half);
  const after = power(samples, loudest + 2 * half, loudest + 2 * half + AROUND_MS * ms);
  if (burst === 0) return false;
  const over = 10 * Math.log10(burst / Math.max(before, burst * 1e-9));
  const left = 10 * Math.log10(Math.max(after, burst * 1e-9) / Math.max(before, burst * 1e-9));
  const fall = 10 * Math.log10(burst / Math.max(after, burst * 1e-9));
  // Out of digital silence nothing can be compared with what was before: then only the fall tells.
  return over >= STANDS_OVER_DB && fall >= STANDS_OVER_DB && (left <= LEAVES_DB || fall >= 45);
}

function power(samples: Float32Array, from: number, to: number): number {
  const start = Math.max(0, Math.round(from));
  const end = Math.min(samples.length, Math.round(to));
  let sum = 0;
  for (let i = start; i < end; i++) sum += (samples[i] as number) ** 2;
  return end > start ? sum / (end - start) : 0;
}
