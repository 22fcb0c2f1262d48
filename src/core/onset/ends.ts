import type { Candidate } from './detect';
import { selectOnsets } from './select';
import { diesAwayAt, type Levels, SAME_SOUND_S } from './silence';

/** What is known of a recording to tell where its sounds end. */
export interface EndBasis {
  readonly candidates: readonly Candidate[];
  readonly levels: Levels | null;
  readonly sampleRate: number;
  readonly frames: number;
}

/** The frame where a sound that starts at a frame has died away: at the next onset at the latest, except with `overNext`. */
export function endOfSound(startFrame: number, overNext: boolean, basis: EndBasis): number {
  const { candidates, levels, sampleRate, frames } = basis;
  const died = diesAwayAt(startFrame, candidates, levels, sampleRate, frames);
  if (overNext) return died;
  const next = selectOnsets(candidates, {}, sampleRate).find(
    (onset) => onset.frame > startFrame + SAME_SOUND_S * sampleRate,
  );
  return Math.min(died, next?.frame ?? frames);
}
