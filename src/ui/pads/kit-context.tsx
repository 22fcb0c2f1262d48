'use client';

import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { KitView } from '@/contract/views';
import { freeName } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { keys, useKit, useKits } from '../data/queries';
import { type PadState, useKitSound } from '../sound/use-kit-sound';
import { layStretch, type Manner, type Stretch } from './laying';

interface KitDesk {
  /** The current kit: the one docked on every page. */
  readonly view: KitView | null;
  readonly choose: (kitId: string) => void;
  readonly createKit: (name: string) => Promise<void>;
  readonly chosen: number | null;
  readonly setChosen: (position: number | null) => void;
  readonly padStates: ReadonlyMap<number, PadState>;
  readonly lit: ReadonlySet<number>;
  readonly strike: (position: number, velocity: number) => void;
  readonly release: (position: number) => void;
  /** Lays a sound; tells the position it went to, null where it could not. */
  readonly lay: (stretch: Stretch, position: number | null, manner: Manner) => number | null;
  /** Whether the picker stands beside the pads. */
  readonly picker: boolean;
  readonly setPicker: (open: boolean) => void;
}

const Context = createContext<KitDesk | null>(null);
const CURRENT = 'undercroft.kit';

export function useKitDesk(): KitDesk {
  const desk = useContext(Context);
  if (!desk) throw new Error('useKitDesk is for use inside KitProvider.');
  return desk;
}

/** Holds the current kit, its sound and its chosen pad for every page. */
export function KitProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { commit } = useCommands();
  const kits = useKits();
  const [wanted, setWanted] = useState<string | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [picker, setPicker] = useState(false);
  useEffect(() => setWanted(localStorage.getItem(CURRENT)), []);
  const list = kits.data;
  const kitId = list?.find((k) => k.id === wanted)?.id ?? list?.[0]?.id ?? null;
  const { data } = useKit(kitId);
  const view = data && data.kit.id === kitId ? data : null;
  const { padStates, lit, strike, release } = useKitSound(view);

  const choose = useCallback((id: string) => {
    localStorage.setItem(CURRENT, id);
    setWanted(id);
    setChosen(null);
  }, []);

  const createKit = useCallback(
    async (name: string) => {
      const id = crypto.randomUUID();
      const free = freeName(name, new Set((list ?? []).map((k) => k.name)));
      await commit(`made the kit ${free}`, [{ op: 'create', doc: 'kit', id, value: { name: free } }]);
      await client.refetchQueries({ queryKey: keys.kits });
      choose(id);
    },
    [client, commit, choose, list],
  );

  const lay = useCallback(
    (stretch: Stretch, position: number | null, manner: Manner) => {
      if (!view) {
        toast('Make a kit first: there is none to lay the sound in.');
        return null;
      }
      const laid = layStretch(view, stretch, position, manner, () => crypto.randomUUID());
      if (!laid) {
        toast('All 32 pads have a sound. Drop it on a pad to lay it beside or instead.');
        return null;
      }
      setChosen(laid.position);
      void commit(`laid ${laid.name} on a pad`, laid.changes);
      return laid.position;
    },
    [view, commit],
  );

  const desk = useMemo(
    () => ({ view, choose, createKit, chosen, setChosen, padStates, lit, strike, release, lay, picker, setPicker }),
    [view, choose, createKit, chosen, padStates, lit, strike, release, lay, picker],
  );
  return <Context.Provider value={desk}>{children}</Context.Provider>;
}
