import { msToFrames } from '../signal/units';
import type { Candidate } from './detect';
import { type AttackSplit, type Band, type Region, SPLIT_INITIAL } from './split';

/** The least strength that passes a sensitivity: 0.9 at 0, 0.0064 at 1, linear in the logarithm. */
export function strengthThreshold(sensitivity: number): number {
  return 0.9 * (0.0064 / 0.9) ** sensitivity;
}

/** From this sensitivity on clicks pass too. */
const CLICKS_FROM = 0.9;

/** Strength of a candidate when only one band is considered. */
export function strengthIn(candidate: Candidate, band: Band): number {
  return band === 'all' ? candidate.strength : candidate[band];
}

/**
 * The candidates that pass, in order; clicks only at the highest sensitivities, or where asked for. Of two closer than
 * the spacing the stronger stays, and with a limit only the strongest. Missing options have their defaults.
 */
export function selectOnsets(
  candidates: readonly Candidate[],
  wanted: Partial<AttackSplit>,
  sampleRate: number,
  withClicks = (wanted.sensitivity ?? SPLIT_INITIAL.sensitivity) >= CLICKS_FROM,
): Candidate[] {
  const split = { ...SPLIT_INITIAL, ...wanted };
  const threshold = strengthThreshold(split.sensitivity);
  const spacing = msToFrames(split.spacingMs, sampleRate);
  const strength = (c: Candidate) => strengthIn(c, split.band);
  const kept: Candidate[] = [];
  for (const candidate of candidates) {
    if (strength(candidate) < threshold || (candidate.click && !withClicks)) continue;
    const previous = kept.at(-1);
    if (previous && candidate.frame - previous.frame < spacing) {
      if (strength(candidate) > strength(previous)) kept[kept.length - 1] = candidate;
    } else kept.push(candidate);
  }
  if (split.strongest === null || kept.length <= split.strongest) return kept;
  const strongest = [...kept].sort((a, b) => strength(b) - strength(a)).slice(0, split.strongest);
  return strongest.sort((a, b) => a.frame - b.frame);
}

/** Slices from onsets: each ends at the next onset or where its sound has died away, whichever is first. */
export function slicesFromOnsets(onsets: readonly Candidate[], totalFrames: number): Region[] {
  return onsets.map((onset, i) => ({
    startFrame: onset.frame,
    endFrame: Math.max(onset.frame + 1, Math.min(onsets[i + 1]?.frame ?? totalFrames, onset.decayEnd, totalFrames)),
  }));
}

/**
 * Contiguous slices that cover [0, totalFrames) without gaps, rests included: each mark up to the next. What lies
 * before the first mark is a slice of its own. For loops that must be rebuilt from their slices exactly.
 */
export function contiguousRegions(starts: readonly number[], totalFrames: number): Region[] {
  const edges = [...new Set([0, ...starts.filter((s) => s > 0 && s < totalFrames)])].sort((a, b) => a - b);
  return edges.map((startFrame, i) => ({ startFrame, endFrame: edges[i + 1] ?? totalFrames }));
}
