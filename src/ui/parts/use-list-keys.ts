import { type RefObject, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { leaveControl, pageKey } from './focus';
import type { Listing } from './listing';

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
  useHotkeys('up', () => move(-1), pageKey);
  useHotkeys('down', () => move(1), pageKey);
  useHotkeys('shift+up', () => move(-1, true), pageKey);
  useHotkeys('shift+down', () => move(1, true), pageKey);
  useHotkeys('pageup', () => move(-8), pageKey);
  useHotkeys('pagedown', () => move(8), pageKey);
  useHotkeys('home', () => move(-shown.length), pageKey);
  useHotkeys('end', () => move(shown.length), pageKey);
  useHotkeys('mod+a', listing.chooseAll, pageKey);
  useHotkeys('slash', () => search.current?.focus(), pageKey);
  useHotkeys('space', () => chosen && onSpace(chosen), pageKey);
  useHotkeys('delete, backspace', () => onDelete(selected), pageKey);
  useHotkeys('enter', () => chosen && onEnter(chosen), {
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, input, textarea, [role=dialog]') !== null,
  });
  return search;
}
