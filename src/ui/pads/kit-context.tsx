'use client';

import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import type { KitView } from '@/contract/views';
import { freeName } from '@/core/naming/names';
import { MAX_TOGETHER } from '@/core/play/limits';
import { useCommands } from '../data/commit';
import { draftedKit, useDrafts } from '../data/drafts';
import { keys, useKit, useKits, useRecordings } from '../data/queries';
import { tell } from '../parts/notice';
import { createStore, useStore } from '../parts/store';
import { chooses, readChoosing } from '../play/choosing';
import { followStrikes } from '../play/door';
import '../play/kept';
import { usePadNotes } from '../play/use-pad-notes';
import { usePlayKeys } from '../play/use-play-keys';
import { type PadState, useKitSound } from '../sound/use-kit-sound';
import {
  asPlaced,
  copyPad,
  type LaidMany,
  type LayMode,
  layMany,
  layStretch,
  movePad,
  type Occupied,
  placeText,
  type RelayMode,
  relaid,
  type Stretch,
  type Way,
} from './laying';
import { showPlace } from './shown-rows';

interface KitDesk {
  /** The current kit: the one docked on every page. */
  readonly view: KitView | null;
  readonly choose: (kitId: string) => void;
  readonly createKit: (name: string) => Promise<void>;
  readonly chosen: number | null;
  readonly setChosen: (position: number | null) => void;
  readonly padStates: ReadonlyMap<number, PadState>;
  /** Lays a sound; returns the position it went to, null where it failed. */
  readonly lay: (stretch: Stretch, position: number | null, mode: LayMode) => number | null;
  /** Lays the last layer of a pad otherwise than beside the others. */
  readonly relay: (position: number, mode: RelayMode) => void;
  /** Lays several sounds as one edit and reports those that found no pad; null where there is no kit or no free pad. */
  readonly layAll: (stretches: readonly Stretch[], way: Way, label: string, occupied?: Occupied) => LaidMany | null;
  /** Moves or copies a pad to another place; an occupied place swaps. */
  readonly movePad: (from: number, to: number, copy: boolean) => void;
  /** Whether the picker is open. */
  readonly picker: boolean;
  readonly setPicker: (open: boolean) => void;
}

/** The kit under the hands, for what plays on while pages change. */
export const kitNow = createStore<KitView | null>(null);

/** The tempo of the groove under work or running, with which loops go before the kit's; null where there is none. */
export const loopTempo = createStore<number | null>(null);

/** The version that is heard in place of the kit it is of; null for the kit itself. */
export const heardVersion = createStore<string | null>(null);

const Context = createContext<KitDesk | null>(null);
const CURRENT = 'undercroft.kit';
const FULL = 'All 128 pads have a sound. Drop it on a pad to lay it beside or instead, or make a new kit.';
const RELAID: Readonly<Record<RelayMode, string>> = {
  instead: 'instead of what was there',
  take: 'as another take',
  next: 'on the next free pad',
};
const newId = () => crypto.randomUUID();

export function useKitDesk(): KitDesk {
  const desk = useContext(Context);
  if (!desk) throw new Error('useKitDesk is for use inside KitProvider.');
  return desk;
}

/** Provides the current kit, its sound and its chosen pad to every page. */
export function KitProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { commit } = useCommands();
  const kits = useKits();
  // Sounds laid or changed on any page are shown with their recording, even if no view has loaded it.
  useRecordings();
  const [wanted, setWanted] = useState<string | null>(null);
  const [chosen, setChosenPlace] = useState<number | null>(null);
  const setChosen = useCallback((position: number | null) => {
    setChosenPlace(position);
    if (position !== null) showPlace(position);
  }, []);
  const [picker, setPicker] = useState(false);
  useEffect(() => setWanted(localStorage.getItem(CURRENT)), []);
  const list = kits.data;
  const kitId = list?.find((k) => k.id === wanted)?.id ?? list?.[0]?.id ?? null;
  // The kit under the hands stays when others come before it in the list.
  useEffect(() => {
    if (kitId !== null) setWanted(kitId);
  }, [kitId]);
  const { data } = useKit(kitId);
  const drafts = useDrafts();
  // Until the next kit is there the one before stays, unless it is gone.
  const isThere = list?.some(({ id }) => id === data?.kit.id) === true;
  const view = useMemo(() => (data && isThere ? draftedKit(drafts, data) : null), [data, isThere, drafts]);
  // A version is heard in place of the kit, on the same pads.
  const { data: version } = useKit(useStore(heardVersion));
  const heard = version?.kit.versionOf === view?.kit.id ? (version ?? view) : view;
  const tempoBpm = useStore(loopTempo);
  const padStates = useKitSound(
    useMemo(
      () => (heard && tempoBpm !== null ? { ...heard, kit: { ...heard.kit, tempoBpm } } : heard),
      [heard, tempoBpm],
    ),
  );
  useEffect(() => kitNow.set(view), [view]);
  usePlayKeys();
  usePadNotes(view);
  useEffect(readChoosing, []);
  useEffect(() => followStrikes(({ pad, by }) => by !== 'pointer' && chooses(by) && setChosen(pad)), [setChosen]);

  const choose = useCallback(
    (id: string) => {
      localStorage.setItem(CURRENT, id);
      setWanted(id);
      heardVersion.set(null);
      setChosen(null);
    },
    [setChosen],
  );

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
    (stretch: Stretch, position: number | null, mode: LayMode) => {
      if (!view) {
        tell('Make a kit first: there is none to lay the sound in.');
        return null;
      }
      const layers = view.layers.filter(({ padId }) => view.pads.find((p) => p.id === padId)?.position === position);
      if (mode === 'beside' && layers.filter(({ isTake }) => !isTake).length >= MAX_TOGETHER) {
        tell(`A pad plays up to ${MAX_TOGETHER} sounds at once; take one off first, or lay this one instead.`);
        return null;
      }
      const placed = position === null ? stretch : asPlaced(stretch, position);
      const laid = layStretch(view, placed, position, mode, newId);
      if (!laid) {
        tell(FULL);
        return null;
      }
      setChosen(laid.position);
      void commit(`laid ${laid.name} on a pad`, laid.changes);
      return laid.position;
    },
    [view, commit, setChosen],
  );

  const relay = useCallback(
    (position: number, mode: RelayMode) => {
      if (!view) return;
      const changes = relaid(view, position, mode, newId);
      if (changes.length === 0) tell(FULL);
      else void commit(`laid it ${RELAID[mode]}`, changes);
    },
    [view, commit],
  );

  const layAll = useCallback(
    (stretches: readonly Stretch[], way: Way, label: string, occupied: Occupied = 'skip') => {
      if (!view) {
        tell('Make a kit first: there is none to lay the sounds in.');
        return null;
      }
      const many = layMany(view, stretches, way, newId, occupied);
      if (many.laid.length === 0) {
        tell(FULL);
        return null;
      }
      void commit(label, many.changes);
      if (many.left > 0)
        tell(`${many.laid.length} laid; ${many.left} more did not fit on the free pads and were left out.`);
      return many;
    },
    [view, commit],
  );

  const move = useCallback(
    (from: number, to: number, copy: boolean) => {
      const pad = view?.pads.find((p) => p.position === from);
      if (!view || !pad || from === to) return;
      const changes = copy ? copyPad(view, from, to, newId) : movePad(view, from, to);
      if (changes.length === 0) {
        tell('That pad has a sound. A copy goes to an empty pad; without the key the two change places.');
        return;
      }
      setChosen(to);
      const other = view.pads.find((p) => p.position === to);
      const label = copy
        ? `copied the pad ${pad.name}`
        : other
          ? `swapped the pads ${pad.name} and ${other.name}`
          : `moved the pad ${pad.name} to ${placeText(to)}`;
      void commit(label, changes);
    },
    [view, commit, setChosen],
  );

  const desk = useMemo(
    () => ({
      view,
      choose,
      createKit,
      chosen,
      setChosen,
      padStates,
      lay,
      relay,
      layAll,
      movePad: move,
      picker,
      setPicker,
    }),
    [view, choose, createKit, chosen, setChosen, padStates, lay, relay, layAll, move, picker],
  );
  return <Context.Provider value={desk}>{children}</Context.Provider>;
}
