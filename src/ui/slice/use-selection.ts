import { useCallback, useMemo, useState } from 'react';

import type { SelectMode } from '../parts/listing';

export interface Selection<T> {
  /** The slice that keys and loupes apply to, and its index in the order shown; -1 for none. */
  readonly chosen: T | undefined;
  readonly index: number;
  /** All that an edit applies to, the chosen one among them. */
  readonly ids: ReadonlySet<string>;
  /** `order`: the ids in the order shown, where that is not the order of time. */
  readonly setChosen: (id: string | null, how?: SelectMode, order?: readonly string[]) => void;
  readonly chooseAll: () => void;
}

/** The chosen slices, one of them the main one. */
export function useSelection<T extends { readonly id: string }>(slices: readonly T[]): Selection<T> {
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const found = slices.findIndex((s) => s.id === chosenId);
  // The main one may be gone, as after an undo: another chosen one takes its place.
  const index = found >= 0 ? found : slices.findIndex((s) => others.has(s.id));
  const setChosen = useCallback(
    (id: string | null, how: SelectMode = 'alone', order?: readonly string[]) => {
      setChosenId(id);
      setOthers((old) => {
        if (id === null || how === 'alone') return old.size === 0 ? old : new Set();
        const next = new Set(old);
        if (chosenId !== null) next.add(chosenId);
        if (how === 'also') {
          if (old.has(id)) next.delete(id);
          return next;
        }
        const shown = order ?? slices.map((s) => s.id);
        const at = shown.indexOf(id);
        const known = shown.indexOf(slices[index]?.id ?? id);
        const from = known < 0 ? at : known;
        for (const between of shown.slice(Math.min(from, at), Math.max(from, at) + 1)) next.add(between);
        return next;
      });
    },
    [slices, index, chosenId],
  );
  const chooseAll = useCallback(() => {
    setChosenId((id) => id ?? slices[0]?.id ?? null);
    setOthers(new Set(slices.map((s) => s.id)));
  }, [slices]);
  const ids = useMemo(() => {
    const there = new Set(slices.map((s) => s.id));
    return new Set([...others, chosenId].filter((id): id is string => id !== null && there.has(id)));
  }, [others, chosenId, slices]);
  return { chosen: slices[index], index, ids, setChosen, chooseAll };
}
