import { useCallback, useMemo, useRef, useState } from 'react';

interface Identified {
  readonly id: string;
}

/** Sort keys of a list, by column: text or number; null sorts last either way. */
export type Sorters<T> = Readonly<Record<string, (row: T) => string | number | null>>;

export interface Order {
  readonly by: string;
  readonly down: boolean;
}

/** Rows of a list as shown: those with every word of the query, sorted. */
export function arrange<T extends Identified>(
  rows: readonly T[],
  query: string,
  textOf: (row: T) => string,
  sorters: Sorters<T>,
  order: Order,
): readonly T[] {
  const words = query.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const found =
    words.length === 0
      ? rows
      : rows.filter((row) => {
          const text = textOf(row).toLocaleLowerCase();
          return words.every((word) => text.includes(word));
        });
  const value = sorters[order.by];
  if (!value) return found;
  const sign = order.down ? -1 : 1;
  const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });
  const keyed = found.map((row) => ({ row, key: value(row) }));
  keyed.sort((a, b) => {
    if (a.key === null || b.key === null) return a.key === b.key ? 0 : a.key === null ? 1 : -1;
    return typeof a.key === 'string'
      ? sign * collator.compare(a.key, String(b.key))
      : sign * (a.key - (b.key as number));
  });
  return keyed.map(({ row }) => row);
}

/** What choosing a row does to those chosen before: replaces them, adds all between, or adds one. */
export type SelectMode = 'alone' | 'through' | 'also';

export interface Listing<T> {
  readonly shown: readonly T[];
  readonly query: string;
  readonly setQuery: (query: string) => void;
  readonly order: Order;
  /** Sorts by a column, or reverses the order where it is sorted by it already. */
  readonly sortBy: (column: string) => void;
  /** The row that keys apply to, and its index among those shown; -1 for none. */
  readonly chosen: T | undefined;
  readonly index: number;
  /** All rows an edit applies to: the chosen one among them, in the order shown. */
  readonly selected: readonly T[];
  readonly isSelected: (id: string) => boolean;
  /** Chooses a row; see `SelectMode`. */
  readonly choose: (id: string, how?: SelectMode) => void;
  readonly chooseAll: () => void;
  readonly chooseFirst: () => void;
}

/** Search, sorting and selection of a list, by pointer and keys. `name` keeps the order between visits. */
export function useListing<T extends Identified>(
  name: string,
  rows: readonly T[],
  textOf: (row: T) => string,
  sorters: Sorters<T>,
  first: Order,
): Listing<T> {
  const [query, setQuery] = useState('');
  const [order, setOrder] = useState<Order>(() => readOrder(name) ?? first);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [selection, setSelection] = useState<ReadonlySet<string>>(new Set());
  // biome-ignore lint/correctness/useExhaustiveDependencies: what a row's text and sort values are never changes
  const shown = useMemo(() => arrange(rows, query, textOf, sorters, order), [rows, query, order]);
  const found = shown.findIndex((row) => row.id === chosenId);
  const index = found >= 0 ? found : shown.length > 0 ? 0 : -1;
  const chosen = shown[index];
  const selected = shown.filter((row) => selection.has(row.id) || row.id === chosen?.id);

  const sortBy = useCallback(
    (column: string) =>
      setOrder((old) => {
        const next = { by: column, down: old.by === column ? !old.down : false };
        localStorage.setItem(keyOf(name), JSON.stringify(next));
        return next;
      }),
    [name],
  );
  const chooseNow = (id: string, how: SelectMode = 'alone') => {
    if (how === 'alone') setSelection(new Set([id]));
    else if (how === 'also') {
      const next = new Set(selection.size === 0 && chosen ? [chosen.id] : selection);
      if (next.has(id) && id !== chosen?.id) next.delete(id);
      else next.add(id);
      setSelection(next);
    } else {
      const to = shown.findIndex((row) => row.id === id);
      const [a, b] = [Math.min(Math.max(0, index), to), Math.max(index, to)];
      setSelection(new Set([...selection, ...shown.slice(a, b + 1).map((row) => row.id)]));
    }
    setChosenId(id);
  };
  // Rows are rendered anew only where they change: what they hold must not be the selection of some earlier time.
  const latest = useRef(chooseNow);
  latest.current = chooseNow;
  const choose = useCallback((id: string, how?: SelectMode) => latest.current(id, how), []);
  return {
    shown,
    query,
    setQuery,
    order,
    sortBy,
    chosen,
    index,
    selected,
    isSelected: (id) => selection.has(id) || id === chosen?.id,
    choose,
    chooseAll: () => setSelection(new Set(shown.map((row) => row.id))),
    chooseFirst: () => {
      const first = shown[0];
      if (first) choose(first.id);
    },
  };
}

const keyOf = (name: string) => `undercroft.order.${name}`;

function readOrder(name: string): Order | null {
  if (typeof localStorage === 'undefined') return null;
  const kept = localStorage.getItem(keyOf(name));
  try {
    return kept ? (JSON.parse(kept) as Order) : null;
  } catch {
    return null;
  }
}

/** The selection mode of a click, by its modifier keys. */
export function selectModeOf(event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): SelectMode {
  return event.shiftKey ? 'through' : event.ctrlKey || event.metaKey ? 'also' : 'alone';
}
