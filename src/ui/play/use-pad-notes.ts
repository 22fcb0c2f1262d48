import { useEffect } from 'react';
import type { KitView } from '@/contract/views';
import { noteOf } from '@/core/kit/layout';
import { setPadNotes } from './controller';

/** Has controllers play the pads of a kit by their notes. */
export function usePadNotes(view: KitView | null): void {
  useEffect(() => {
    const pads = new Map<number, number[]>();
    for (const pad of view?.pads ?? []) pads.set(noteOf(pad), [...(pads.get(noteOf(pad)) ?? []), pad.position]);
    setPadNotes(pads);
  }, [view]);
}
