import { useMemo } from 'react';
import type { MarkChanges } from '@/core/onset/marks';
import { createStore, type Store, useStore } from '../parts/store';

/** How often figures follow an edge in hand: they can be read no faster, and the picture has the time. */
const FIGURES_MS = 60;

/** What an edge in hand would do, shown by the pictures and figures, and stored when it is let go. */
export interface HeldEdges extends Store<MarkChanges | null> {
  /** The same for figures, a little behind while an edge moves. */
  readonly figures: Store<MarkChanges | null>;
}

export function useHeld(): HeldEdges {
  return useMemo(() => {
    const held = createStore<MarkChanges | null>(null);
    const figures = createStore<MarkChanges | null>(null);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const follow = () => {
      timer = undefined;
      figures.set(held.get());
    };
    held.subscribe(() => {
      if (held.get() !== null) timer ??= setTimeout(follow, FIGURES_MS);
      else {
        clearTimeout(timer);
        follow();
      }
    });
    return { ...held, figures };
  }, []);
}

/** A slice's figures while one of its edges is in hand. */
export function useHeldSlice<T extends { readonly id: string }>(slice: T, held: HeldEdges): T {
  const set = useStore(held.figures, (changes) => changes?.update.find((u) => u.id === slice.id)?.set);
  return useMemo(() => (set ? { ...slice, ...set } : slice), [slice, set]);
}

/** Shows what is being stored until it has been: then the slices themselves tell it. */
export function holdUntil(held: HeldEdges, changes: MarkChanges, stored: Promise<unknown>): void {
  held.set(changes);
  void stored.finally(() => {
    if (held.get() === changes) held.set(null);
  });
}
