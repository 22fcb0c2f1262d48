import { FULL_VELOCITY_DB, velocityUnder } from '../play/gains';

/** A take with how loud it is. */
export interface HeardTake {
  readonly hitId: string;
  /** Maximum momentary loudness in LUFS. */
  readonly lufs: number;
}

/** A take's place in the map of velocities, and the gain that levels it. */
export interface LaidTake {
  readonly hitId: string;
  readonly lowVelocity: number;
  readonly highVelocity: number;
  /** To the loudness of the loudest. */
  readonly gainDb: number;
}

/** Takes nearer than this in loudness are strokes of one strength (common practice). */
const STEP_DB = 2.5;

/**
 * Lays takes over the velocities by their loudness: those of one strength share a range and alternate, a range ends half
 * way to the next strength. A stroke of a strength is played by the velocity at which the pad's own range of level would
 * have it as loud: `rangeDb` under the loudest at velocity 1. Softest first; takes that are silent come lowest.
 */
export function laidOverVelocity(takes: readonly HeardTake[], rangeDb: number): LaidTake[] {
  const rising = [...takes].sort((a, b) => a.lufs - b.lufs);
  const loudest = rising.at(-1)?.lufs ?? 0;
  const steps: HeardTake[][] = [];
  for (const take of rising) {
    const last = steps.at(-1);
    const before = last?.[0];
    if (last && before && (take.lufs - before.lufs < STEP_DB || !Number.isFinite(take.lufs))) last.push(take);
    else steps.push([take]);
  }
  const middles = steps.map((step) => {
    const under = loudest - mean(step.map(({ lufs }) => Math.max(lufs, loudest - FULL_VELOCITY_DB)));
    return velocityUnder(under, Math.max(rangeDb, 1));
  });
  // The ends of the ranges rise by at least one, so that every strength can be played.
  const ends: number[] = [];
  for (const [i, middle] of middles.entries()) {
    const next = middles[i + 1];
    const wanted = next === undefined ? 127 : Math.round((middle + next) / 2);
    const least = (ends.at(-1) ?? 0) + 1;
    ends.push(Math.min(127 - (middles.length - 1 - i), Math.max(least, wanted)));
  }
  return steps.flatMap((step, i) =>
    step.map(({ hitId, lufs }) => ({
      hitId,
      lowVelocity: (ends[i - 1] ?? 0) + 1,
      highVelocity: ends[i] as number,
      gainDb: Number.isFinite(lufs) ? loudest - lufs : 0,
    })),
  );
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}
