import type { Candidate } from './detect';

/** What a dragged edge snaps to. */
export const SNAPS = ['attack', 'zero', 'free'] as const;
export type Snap = (typeof SNAPS)[number];

/** The candidate nearest to a frame within `reach`, by its frame; candidates are in order. */
export function nearestAttack(candidates: readonly Candidate[], frame: number, reach: number): number | null {
  let low = 0;
  let high = candidates.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((candidates[mid] as Candidate).frame < frame) low = mid + 1;
    else high = mid;
  }
  let best: number | null = null;
  for (const candidate of [candidates[low - 1], candidates[low]]) {
    if (!candidate) continue;
    const distance = Math.abs(candidate.frame - frame);
    if (distance <= reach && (best === null || distance < Math.abs(best - frame))) best = candidate.frame;
  }
  return best;
}

/**
 * The zero crossing nearest to a frame within `reach`: of the two frames around the change of sign, the one closer to
 * zero. `sample` gives one sample of the mono sum, NaN where it is not loaded.
 */
export function nearestZero(sample: (frame: number) => number, frame: number, reach: number): number | null {
  for (let away = 0; away <= reach; away++) {
    for (const at of away === 0 ? [frame] : [frame - away, frame + away]) {
      const here = sample(at);
      const before = sample(at - 1);
      if (Number.isNaN(here) || Number.isNaN(before)) continue;
      if (here === 0) return at;
      if (before < 0 !== here < 0 && before !== 0) return Math.abs(before) < Math.abs(here) ? at - 1 : at;
    }
  }
  return null;
}
