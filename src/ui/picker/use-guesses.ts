import { useMemo } from 'react';
import type { CutView } from '@/contract/views';
import { bySlice, type ShelvedSlice, useHeard } from '../shelves/use-heard';

/** More slices than this are not listened to beside the picking. */
const MOST_HEARD = 300;

/** What the slices of the last unfolded recording are heard as, by their ids, so that they are named and placed by it. */
export function useGuesses(cuts: readonly (CutView | null)[]): ReadonlyMap<string, ShelvedSlice> {
  const last = cuts.at(-1) ?? null;
  const views = useMemo((): [CutView] => [last ?? NOTHING], [last]);
  const heard = useHeard(views, last !== null && last.slices.length > 0 && last.slices.length <= MOST_HEARD);
  return useMemo(() => bySlice(heard), [heard]);
}

/** Stands in while no recording is unfolded: it has no slices and is never asked for. */
const NOTHING = {
  recording: { id: '', analysed: false },
  cut: null,
  slices: [],
  candidates: [],
} as unknown as CutView;
