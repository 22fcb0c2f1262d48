import { type RefObject, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { leaveControl } from './focus';
import type { Listing } from './listing';

const on = { preventDefault: true } as const;

interface ListActions<T> {
  /** Called when an arrow key chooses a row, to audition it. */
  readonly onMove: (row: T) => void;
  readonly onSpace: (row: T) => void;
  readonly onEnter: (row: T) => void;
  readonly onDelete: (rows: readonly T[]) => void;
}

/** Keys of a list that fills a page; returns the search field that "/" focuses. */
export function useListKeys<T extends { readonly id: string }>(
  listing: Listing<T>,
  { onMove, onSpace, onEnter, onDelete }: ListActions<T>,
): RefObject<HTMLInputElement | null> {
  const search = useRef<HTMLInputElement>(null);
  const { shown, index, chosen, selected } = listing;
  const move = (by: number, through = false) => {
    leaveControl();
    const next = shown[Math.max(0, Math.min(shown.length - 1, index + by))];
    if (!next) return;
    listing.choose(next.id, through ? 'through' : 'alone');
    if (!through) onMove(next);
  };
  useHotkeys('up', () => move(-1), on);
  useHotkeys('down', () => move(1), on);
  useHotkeys('shift+up', () => move(-1, true), on);
  useHotkeys('shift+down', () => move(1, true), on);
  useHotkeys('pageup', () => move(-8), on);
  useHotkeys('pagedown', () => move(8), on);
  useHotkeys('home', () => move(-shown.length), on);
  useHotkeys('end', () => move(shown.length), on);
  useHotkeys('mod+a', listing.chooseAll, on);
  useHotkeys('slash', () => search.current?.focus(), on);
  useHotkeys('space', () => chosen && onSpace(chosen), on);
  useHotkeys('delete, backspace', () => onDelete(selected), on);
  useHotkeys('enter', () => chosen && onEnter(chosen), {
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, input, textarea, [role=dialog]') !== null,
  });
  return search;
}
