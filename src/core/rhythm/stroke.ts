import { TOLD_FAMILIES } from '../describe/family';
import type { Hearing, ListenedSlice } from '../describe/hearing';

/** A stroke, from a slice. */
export interface Stroke {
  readonly frame: number;
  readonly group: number;
  readonly peakDb: number;
  /** Probabilities of `TOLD_FAMILIES`. */
  readonly families: ArrayLike<number>;
}

/**
 * The strokes of a recording with described slices, in order of time; groups are counted as on the shelves. `isOwn`
 * distinguishes its slices from those of other recordings on the same shelves.
 */
export function strokesHeard(
  slices: readonly ListenedSlice[],
  { shelves }: Hearing,
  isOwn: (index: number) => boolean = () => true,
): Stroke[] {
  return shelves
    .flatMap(({ members, family: shared }, group) => {
      const said = members.some((i) => slices[i]?.family);
      return members.flatMap((i): Stroke[] => {
        const slice = slices[i];
        if (!slice || !isOwn(i)) return [];
        const family = slice.family ?? (said ? shared : null);
        // A person's decision on it, or on another of its shelf, is certain.
        const families = family === null ? slice.chances.main : TOLD_FAMILIES.map((told) => Number(told === family));
        return [{ frame: slice.startFrame, group, peakDb: slice.figures.peakDb, families }];
      });
    })
    .sort((a, b) => a.frame - b.frame);
}
