import { useMemo } from 'react';
import type { CutView } from '@/contract/views';
import { bySlice, type ShelvedSlice, useHeard } from '../shelves/use-heard';

/** Recordings with more slices are not described in the picker. */
const MOST_HEARD = 300;

/** Descriptions of the slices of the last unfolded recording, by id, for their names and places. */
export function useGuesses(cuts: readonly (CutView | null)[]): ReadonlyMap<string, ShelvedSlice> {
  const last = cuts.at(-1) ?? null;
  const views = useMemo((): [CutView] => [last ?? NOTHING], [last]);
  const heard = useHeard(views, last !== null && last.slices.length > 0 && last.slices.length <= MOST_HEARD);
  return useMemo(() => bySlice(heard), [heard]);
}

/** Placeholder while no recording is unfolded: it has no slices and is never fetched. */
const NOTHING = {
  recording: { id: '', analysed: false },
  cut: null,
  slices: [],
  candidates: [],
} as unknown as CutView;
