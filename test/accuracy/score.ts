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
/** As far from what is reported apart a mark may lie to be of it. */
const APART_S = 0.05;

/** What is asked for: strokes that can be heard. Notes of the music that drums play under are reported apart. */
export function isCounted(onset: TrueOnset): boolean {
  return onset.struck && onset.raisesDb >= COUNTED_FROM_DB;
}

/**
 * Matches found onsets to those asked for one to one within +-`windowS`: as many as possible, and of the ways to do that the
 * one with the least errors. Source of the measure: MIREX audio onset detection, window +-50 ms. A mark without a match is
 * false, unless what is nearest to it is reported apart.
 */
export function score(
  found: readonly number[],
  truth: readonly TrueOnset[],
  windowS: number,
  counts: (onset: TrueOnset) => boolean = isCounted,
): Score {
  const asked = truth.filter(counts).map((t) => t.seconds);
  const pairs = matching(asked, found, windowS);
  const matched = new Set(pairs.map(([, j]) => j));
  const isFalse = (at: number) => {
    const nearest = truth.reduce<TrueOnset | null>(
      (best, t) => (best && Math.abs(best.seconds - at) <= Math.abs(t.seconds - at) ? best : t),
      null,
    );
    return !nearest || counts(nearest) || Math.abs(nearest.seconds - at) > APART_S;
  };
  return {
    hits: pairs.length,
    misses: asked.length - pairs.length,
    falseMarks: found.filter((at, j) => !matched.has(j) && isFalse(at)).length,
    errorsMs: pairs.map(([i, j]) => ((found[j] as number) - (asked[i] as number)) * 1000),
  };
}

/** Pairs of indices of two sorted lists. Pairs of a best matching need not cross, so it is found by dynamic programming. */
function matching(a: readonly number[], b: readonly number[], windowS: number): [number, number][] {
  const columns = b.length + 1;
  // A pair is worth more than all errors together can cost.
  const worth = new Float64Array((a.length + 1) * columns);
  const at = (i: number, j: number) => worth[i * columns + j] as number;
  const gain = (i: number, j: number) => {
    const error = Math.abs((a[i - 1] as number) - (b[j - 1] as number));
    return error <= windowS ? 1e6 - error : Number.NEGATIVE_INFINITY;
  };
  for (let i = 1; i <= a.length; i++) {
    for (let j = 1; j <= b.length; j++)
      worth[i * columns + j] = Math.max(at(i - 1, j), at(i, j - 1), at(i - 1, j - 1) + gain(i, j));
  }
  const pairs: [number, number][] = [];
  for (let i = a.length, j = b.length; i > 0 && j > 0; ) {
    if (at(i, j) === at(i - 1, j)) i--;
    else if (at(i, j) === at(i, j - 1)) j--;
    else pairs.push([--i, --j]);
  }
  return pairs.reverse();
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
