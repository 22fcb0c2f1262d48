import { useLayoutEffect } from 'react';
import { createStore, useStore } from '../parts/store';
import type { GrooveDesk } from './use-groove-desk';
import type { SelectionEdits } from './use-selection-edits';

interface Now {
  readonly desk: GrooveDesk;
  readonly edits: SelectionEdits;
}

/** What the place works on, for what opens over it: it follows while it is open, and costs nothing while it is not. */
const deskNow = createStore<Now | null>(null);

export function usePublishedDesk(desk: GrooveDesk, edits: SelectionEdits): void {
  useLayoutEffect(() => deskNow.set({ desk, edits }), [desk, edits]);
}

export function useDeskNow(): Now {
  return useStore(deskNow) as Now;
}

/** The desk as it is when something happens. */
export function deskAtHand(): GrooveDesk {
  return (deskNow.get() as Now).desk;
}
