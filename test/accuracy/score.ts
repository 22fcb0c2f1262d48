import type { TrueOnset } from './items';

export interface Score {
  readonly hits: number;
  readonly misses: number;
  readonly falseMarks: number;
  /** Signed errors of matched onsets, found minus true, in ms. */
  readonly errorsMs: readonly number[];
}

/** Truth that raises the mix by less than this is reported apart: finding it is no fault, missing it neither. */
export const COUNTED_FROM_DB = 1;

/**
 * Matches found onsets to true ones one to one within +-`windowS`, as many as possible (both lists are sorted, so a
 * greedy sweep is optimal). Source of the measure: MIREX audio onset detection, window +-50 ms.
 */
export function score(found: readonly number[], truth: readonly TrueOnset[], windowS: number): Score {
  let i = 0;
  let hits = 0;
  let misses = 0;
  let falseMarks = 0;
  const errorsMs: number[] = [];
  for (const onset of truth) {
    const counted = onset.raisesDb >= COUNTED_FROM_DB;
    while (i < found.length && (found[i] as number) < onset.seconds - windowS) {
      falseMarks++;
      i++;
    }
    if (i < found.length && Math.abs((found[i] as number) - onset.seconds) <= windowS) {
      const nextIsCloser =
        !counted &&
        truth.some((t) => t.raisesDb >= COUNTED_FROM_DB && Math.abs((found[i] as number) - t.seconds) <= windowS);
      if (nextIsCloser) continue;
      if (counted) {
        hits++;
        errorsMs.push(((found[i] as number) - onset.seconds) * 1000);
      }
      i++;
    } else if (counted) misses++;
  }
  falseMarks += found.length - i;
  return { hits, misses, falseMarks, errorsMs };
}

export function addScores(scores: readonly Score[]): Score {
  return {
    hits: scores.reduce((s, x) => s + x.hits, 0),
    misses: scores.reduce((s, x) => s + x.misses, 0),
    falseMarks: scores.reduce((s, x) => s + x.falseMarks, 0),
    errorsMs: scores.flatMap((x) => x.errorsMs),
  };
}

export function fMeasure(s: Score): number {
  const total = 2 * s.hits + s.misses + s.falseMarks;
  return total === 0 ? 1 : (2 * s.hits) / total;
}

export function quantile(values: readonly number[], q: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? Number.NaN;
}
