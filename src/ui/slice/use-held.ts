import { useMemo } from 'react';
import type { MarkChanges } from '@/core/onset/marks';
import { createStore, type Store, useStore } from '../parts/store';

/** Interval at which figures follow a dragged edge, in ms: nobody reads faster, and the pictures get the time. */
const FIGURES_MS = 60;

/** Changes that a dragged edge would make: previewed by pictures and figures, stored on release. */
export interface HeldEdges extends Store<MarkChanges | null> {
  /** The same for figures, throttled. */
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

/** A slice with a dragged edge applied. */
export function useHeldSlice<T extends { readonly id: string }>(slice: T, held: HeldEdges): T {
  const set = useStore(held.figures, (changes) => changes?.update.find((u) => u.id === slice.id)?.set);
  return useMemo(() => (set ? { ...slice, ...set } : slice), [slice, set]);
}

/** Keeps the preview until the changes have been stored. */
export function holdUntil(held: HeldEdges, changes: MarkChanges, stored: Promise<unknown>): void {
  held.set(changes);
  void stored.finally(() => {
    if (held.get() === changes) held.set(null);
  });
}
