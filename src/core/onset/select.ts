import { msToFrames } from '../signal/units';
import type { Candidate } from './detect';

/** How candidates are chosen. Sensitivity 0 keeps only the surest, 1 every candidate. */
export interface AttackSplit {
  readonly sensitivity: number;
  readonly spacingMs: number;
}

export const DEFAULT_SPLIT: AttackSplit = { sensitivity: 0.5, spacingMs: 20 };

/** A stretch of a recording, half-open [startFrame, endFrame). */
export interface Region {
  readonly startFrame: number;
  readonly endFrame: number;
}

/** The least strength that a sensitivity lets through: 0.9 at 0, 0.0064 at 1, falling evenly in logarithm. */
export function strengthThreshold(sensitivity: number): number {
  return 0.9 * (0.0064 / 0.9) ** sensitivity;
}

/** The candidates let through, in order; of two closer than the spacing the stronger stays. */
export function selectOnsets(candidates: readonly Candidate[], split: AttackSplit, sampleRate: number): Candidate[] {
  const threshold = strengthThreshold(split.sensitivity);
  const spacing = msToFrames(split.spacingMs, sampleRate);
  const kept: Candidate[] = [];
  for (const candidate of candidates) {
    if (candidate.strength < threshold) continue;
    const previous = kept.at(-1);
    if (previous && candidate.frame - previous.frame < spacing) {
      if (candidate.strength > previous.strength) kept[kept.length - 1] = candidate;
    } else kept.push(candidate);
  }
  return kept;
}

/** Slices from onsets: each ends at the next onset or where its sound has died away, whichever is first. */
export function slicesFromOnsets(onsets: readonly Candidate[], totalFrames: number): Region[] {
  return onsets.map((onset, i) => ({
    startFrame: onset.frame,
    endFrame: Math.max(onset.frame + 1, Math.min(onsets[i + 1]?.frame ?? totalFrames, onset.decayEnd, totalFrames)),
  }));
}

/**
 * Contiguous slices that cover [0, totalFrames) without gaps, rests included: each mark up to the next. What lies before
 * the first mark is a slice of its own. Used where a loop must be rebuilt from its slices bit for bit.
 */
export function contiguousRegions(starts: readonly number[], totalFrames: number): Region[] {
  const edges = [...new Set([0, ...starts.filter((s) => s > 0 && s < totalFrames)])].sort((a, b) => a - b);
  return edges.map((startFrame, i) => ({ startFrame, endFrame: edges[i + 1] ?? totalFrames }));
}
