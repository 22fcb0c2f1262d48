/** How long a click may be, and the stretches before and after it that its burst is held against, in ms. */
const LONGEST_MS = 1.5;
const AROUND_MS = 6;
/** Stretches over which the level before and after is compared, in ms: longer than a period of the lowest drums' overtones. */
const LEVEL_MS = 20;
/** A click's burst stands this far over what is before and after it, and leaves the level no higher by more than this. */
const STANDS_OVER_DB = 14;
const LEAVES_DB = 3;
/** Out of silence there is no level to leave: there a click falls by this much. */
const FALLS_DB = 40;

/**
 * Whether the sound at `frame` is a click, as worn records and bad edits have them: a burst of all frequencies that is over
 * within 1.5 ms and leaves the level as it was. Every struck thing rings longer, or louder, than that. The burst is looked
 * for in the second difference of the signal, which takes tones out and leaves what is sudden - the crudest of the
 * predictors by which S. Godsill, P. Rayner, "Digital audio restoration", 1998, chapter 5, find clicks.
 */
export function isClick(samples: Float32Array, sampleRate: number, frame: number): boolean {
  const ms = sampleRate / 1000;
  // The mark may lie a little before or after the burst itself.
  let loudest = frame;
  let most = 0;
  const last = Math.min(samples.length - 2, frame + 5 * ms);
  for (let i = Math.max(2, Math.round(frame - 2 * ms)); i < last; i++) {
    const d = Math.abs(secondDifference(samples, i));
    if (d > most) {
      most = d;
      loudest = i;
    }
  }
  if (most === 0) return false;
  const half = (LONGEST_MS * ms) / 2;
  const burst = power(samples, loudest - half, loudest + half, secondDifference);
  const around = (start: number) => power(samples, start, start + AROUND_MS * ms, secondDifference);
  if (decibels(burst, around(loudest - half - AROUND_MS * ms)) < STANDS_OVER_DB) return false;
  if (decibels(burst, around(loudest + 2 * half)) < STANDS_OVER_DB) return false;
  const level = (start: number) => power(samples, start, start + LEVEL_MS * ms, plain);
  const before = level(loudest - half - LEVEL_MS * ms);
  const after = level(loudest + 2 * half);
  const atBurst = power(samples, loudest - half, loudest + half, plain);
  return decibels(after, before) <= LEAVES_DB || decibels(atBurst, after) >= FALLS_DB;
}

type Sampler = (samples: Float32Array, i: number) => number;

const plain: Sampler = (samples, i) => samples[i] as number;
const secondDifference: Sampler = (samples, i) =>
  (samples[i + 1] ?? 0) - 2 * (samples[i] as number) + (samples[i - 1] ?? 0);

function power(samples: Float32Array, from: number, to: number, at: Sampler): number {
  const start = Math.max(0, Math.round(from));
  const end = Math.min(samples.length, Math.round(to));
  let sum = 0;
  for (let i = start; i < end; i++) sum += at(samples, i) ** 2;
  return end > start ? sum / (end - start) : 0;
}

/** One power over another; what is silence against the louder of them counts as 100 dB under it. */
function decibels(a: number, b: number): number {
  const floor = Math.max(a, b) * 1e-10;
  return floor === 0 ? 0 : 10 * Math.log10(Math.max(a, floor) / Math.max(b, floor));
}
