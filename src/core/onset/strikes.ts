import type { Candidate } from './detect';

/** Strikes closer than this, or further under the loudest, are parts of one sound: flams, the ring of a rattle. */
const APART_S = 0.12;
const UNDER_DB = 24;

/** Onsets that are perceived as separate strikes, in frames. */
export function separateStrikes(marks: readonly Candidate[], sampleRate: number): number[] {
  const loudest = Math.max(0, ...marks.map((m) => m.peak));
  const strikes: Candidate[] = [];
  for (const mark of marks) {
    if (mark.peak < loudest * 10 ** (-UNDER_DB / 20)) continue;
    const last = strikes.at(-1);
    if (!last || mark.frame - last.frame >= APART_S * sampleRate) strikes.push(mark);
  }
  return strikes.map((s) => s.frame);
}
