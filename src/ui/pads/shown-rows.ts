import { HIGHEST_FIRST_ROW, ROWS } from '@/core/kit/layout';
import { createStore, useStore } from '../parts/store';

/** The lowest of the four rows of pads that are under the hands, on every page alike. */
const firstRow = createStore(0);

export function firstRowNow(): number {
  return firstRow.get();
}

export function useFirstRow(): number {
  return useStore(firstRow);
}

/** Turns the pads by so many rows, as far as there are any. */
export function turnRows(by: number): void {
  firstRow.set(Math.max(0, Math.min(HIGHEST_FIRST_ROW, firstRow.get() + by)));
}

/** Turns the pads so far that a place is among them. */
export function showPlace(position: number): void {
  const row = Math.floor(position / 8);
  const first = firstRow.get();
  if (row < first) turnRows(row - first);
  else if (row >= first + ROWS.length) turnRows(row - first - ROWS.length + 1);
}
