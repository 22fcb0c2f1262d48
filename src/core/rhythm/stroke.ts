import { TOLD_FAMILIES } from '../describe/family';
import type { Hearing, ListenedSlice } from '../describe/hearing';

/** A stroke as slices tell it. */
export interface Stroke {
  readonly frame: number;
  readonly group: number;
  readonly peakDb: number;
  /** Probabilities of `TOLD_FAMILIES`. */
  readonly families: ArrayLike<number>;
}

/**
 * The strokes of a recording whose slices were heard, in the order of time; groups are counted as the shelves stand. `isOwn` tells
 * its slices from those of others that were heard with them.
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
        // What a person said of it, or of another of its shelf, is certain.
        const families = family === null ? slice.chances.main : TOLD_FAMILIES.map((told) => Number(told === family));
        return [{ frame: slice.startFrame, group, peakDb: slice.figures.peakDb, families }];
      });
    })
    .sort((a, b) => a.frame - b.frame);
}
