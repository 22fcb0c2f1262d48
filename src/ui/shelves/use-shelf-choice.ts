import { useCallback, useMemo, useRef, useState } from 'react';
import { tell } from '../parts/notice';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

/** Where a slice stands: its shelf, and its place on it. */
export interface Place {
  readonly entry: ShelvedSlice;
  readonly shelf: ShelfOfSlices;
  readonly shelfIndex: number;
  readonly index: number;
}

export interface ShelfChoice {
  readonly chosenId: string | null;
  readonly chosen: Place | undefined;
  /** All that edits apply to, the chosen one among them. */
  readonly selected: ReadonlySet<string>;
  readonly entries: () => ShelvedSlice[];
  readonly choose: (id: string, also: boolean) => void;
  /** Chooses the slice so many places along the shelf, or the first of the shelf so many further down. */
  readonly step: (along: number, across: number) => void;
  /** Goes back to the slice chosen before, to compare by ear. */
  readonly compare: () => void;
}

/** Which slices of the shelves are chosen; what is chosen is heard. */
export function useShelfChoice(shelves: readonly ShelfOfSlices[], hear: (entry: ShelvedSlice) => void): ShelfChoice {
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const before = useRef<string | null>(null);
  const places = useMemo(() => placesOf(shelves), [shelves]);
  const chosen = chosenId === null ? undefined : places.get(chosenId);
  const selected = useMemo(
    () => new Set([...others, ...(chosenId ? [chosenId] : [])].filter((id) => places.has(id))),
    [others, chosenId, places],
  );
  const choose = useCallback(
    (id: string, also: boolean) => {
      const place = places.get(id);
      if (!place) return;
      setChosenId((old) => {
        if (old !== id) before.current = old;
        setOthers((known) => (also ? new Set([...known, ...(old ? [old] : [])]) : new Set()));
        return id;
      });
      hear(place.entry);
    },
    [places, hear],
  );
  return {
    chosenId,
    chosen,
    selected,
    entries: () => [...selected].flatMap((id) => places.get(id)?.entry ?? []),
    choose,
    step: (along, across) => {
      const next = chosen ? neighbour(shelves, chosen, along, across) : shelves[0]?.slices[0];
      if (next) choose(next.slice.id, false);
    },
    compare: () => {
      const other = before.current;
      if (other && places.has(other)) choose(other, false);
      else tell('Choose two slices one after the other: this key then goes from one to the other.');
    },
  };
}

function neighbour(shelves: readonly ShelfOfSlices[], from: Place, along: number, across: number) {
  const shelf = shelves[Math.max(0, Math.min(shelves.length - 1, from.shelfIndex + across))];
  const last = (shelf?.slices.length ?? 1) - 1;
  return shelf?.slices[across === 0 ? Math.max(0, Math.min(last, from.index + along)) : 0];
}

function placesOf(shelves: readonly ShelfOfSlices[]): ReadonlyMap<string, Place> {
  return new Map(
    shelves.flatMap((shelf, shelfIndex) =>
      shelf.slices.map((entry, index) => [entry.slice.id, { entry, shelf, shelfIndex, index }] as const),
    ),
  );
}
