import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { GrooveView, KitView } from '@/contract/views';
import type { GrooveNote } from '@/core/groove/model';
import type { Stretch } from '@/core/groove/score';
import { barOf, barStarts, grooveTicks, stepAt } from '@/core/groove/time';
import { loopTempo } from '../pads/kit-context';
import { createStore, useStore } from '../parts/store';
import { player } from './player';
import { keptRows, type ShownRow, shownRows } from './rows';
import { trial } from './trial';

/** What is played over and over. */
export type Plays = 'all' | 'bar' | 'stretch';
/** How notes are shown: in the grid's steps, or at their true times. */
export type Look = 'grid' | 'notes';

/** The cell that keys act on: a shown row, and a step by its tick. */
export interface Cell {
  readonly row: number;
  readonly tick: number;
}

export interface GrooveDesk {
  /** What is shown and heard: what is tried where something is, otherwise the groove. */
  readonly view: GrooveView;
  /** The groove itself, which edits change. */
  readonly stored: GrooveView;
  readonly kit: KitView | null;
  readonly isTrial: boolean;
  readonly rows: readonly ShownRow[];
  readonly starts: readonly number[];
  readonly step: number;
  readonly setStep: (ticks: number) => void;
  readonly onlyUsed: boolean;
  readonly setOnlyUsed: (only: boolean) => void;
  readonly cell: Cell;
  readonly setCell: (cell: Cell) => void;
  /** The note of the cell, the first that begins in it. */
  readonly note: Stored<GrooveNote> | null;
  /** The notes that edits of several act on, by id. */
  readonly selected: ReadonlySet<string>;
  readonly setSelected: (ids: ReadonlySet<string>) => void;
  /** The bar under work, from 0, and the last one of a stretch that was marked with it. */
  readonly bar: number;
  readonly lastBar: number;
  readonly setBar: (bar: number, last?: number) => void;
  readonly plays: Plays;
  readonly setPlays: (plays: Plays) => void;
  /** The bar under work goes along with what is heard. */
  readonly follows: boolean;
  readonly setFollows: (follows: boolean) => void;
  readonly isRunning: boolean;
  readonly look: Look;
}

export const grooveLook = createStore<Look>('grid');
const NONE: ReadonlySet<string> = new Set();

/** What the place Grooves works on: rows, cell, bars under work and what is played; hands the player every change. */
export function useGrooveDesk(stored: GrooveView, kit: KitView | null): GrooveDesk {
  const tried = useStore(trial);
  const view = tried?.offers[tried.at]?.view ?? stored;
  const isTrial = view !== stored;
  const look = useStore(grooveLook);
  const [step, setStep] = useState(240);
  const [onlyUsed, setOnlyUsed] = useState(false);
  const [wanted, setCell] = useState<Cell>({ row: 0, tick: 0 });
  const [selected, setSelected] = useState(NONE);
  const [[firstBar, endBar], setBars] = useState<readonly [number, number]>([0, 0]);
  const [plays, setPlays] = useState<Plays>('all');
  const [follows, setFollows] = useState(false);
  const isRunning = useStore(player.running);
  const { groove } = view;
  const pads = kit?.pads;
  const starts = useMemo(() => barStarts(groove), [groove]);
  const shown = useRef<readonly ShownRow[]>([]);
  const rows = useMemo(() => {
    shown.current = keptRows(shown.current, shownRows(view, pads ?? [], onlyUsed));
    return shown.current;
  }, [view, pads, onlyUsed]);
  const last = groove.bars - 1;
  const [bar, lastBar] = [Math.min(firstBar, last), Math.min(Math.max(firstBar, endBar), last)];
  const cell = useMemo(
    () => ({
      row: Math.max(0, Math.min(rows.length - 1, wanted.row)),
      tick: stepAt(starts, Math.max(0, Math.min(grooveTicks(groove) - 1, wanted.tick)), step),
    }),
    [rows.length, wanted, starts, groove, step],
  );
  const note = useMemo(() => noteIn(rows[cell.row], cell.tick, step, starts), [rows, cell, step, starts]);
  const stretch = useMemo((): Stretch => {
    const at = (n: number) => starts[n] as number;
    // All of another groove is heard, and the bar at which the stored one is worked on.
    if (plays === 'all') return { from: 0, to: at(groove.bars) };
    return { from: at(bar), to: at((plays === 'bar' ? bar : lastBar) + 1) };
  }, [plays, bar, lastBar, starts, groove.bars]);
  useEffect(() => {
    player.set(view, kit, stretch, (tick) => starts[barOf(starts, tick)] as number);
  }, [view, kit, stretch, starts]);
  useEffect(() => {
    loopTempo.set(groove.bpm);
    return () => {
      if (!player.running.get()) loopTempo.set(null);
    };
  }, [groove.bpm]);
  useEffect(() => () => trial.set(null), []);
  // What is asked for is held against what is there then.
  const latest = useRef({ cell, bar, lastBar, starts });
  latest.current = { cell, bar, lastBar, starts };
  const setBar = useCallback((first: number, end = first) => {
    setBars([first, end]);
    const now = latest.current;
    if (barOf(now.starts, now.cell.tick) !== first) setCell({ ...now.cell, tick: now.starts[first] as number });
  }, []);
  const moveCell = useCallback((next: Cell) => {
    setCell(next);
    const now = latest.current;
    const of = barOf(now.starts, next.tick);
    if (of < now.bar || of > now.lastBar) setBars([of, of]);
  }, []);
  return useMemo(
    () => ({
      ...{ view, stored, kit, isTrial, rows, starts, step, setStep, onlyUsed, setOnlyUsed, cell, setCell: moveCell },
      ...{ note, selected, setSelected, look },
      ...{ bar, lastBar, setBar, plays, setPlays, follows, setFollows, isRunning },
    }),
    [
      view,
      stored,
      kit,
      isTrial,
      rows,
      starts,
      step,
      onlyUsed,
      cell,
      moveCell,
      note,
      selected,
      look,
      bar,
      lastBar,
      setBar,
      plays,
      follows,
      isRunning,
    ],
  );
}

/** The first note of a row that begins in a step. */
export function noteIn(
  row: ShownRow | undefined,
  tick: number,
  step: number,
  starts: readonly number[],
): Stored<GrooveNote> | null {
  return row?.notes.find((note) => stepAt(starts, note.tick, step) === tick) ?? null;
}

/** The notes that an edit of several acts on: those that are selected, otherwise that of the cell. */
export function chosenNotes({ view, selected, note }: GrooveDesk): readonly Stored<GrooveNote>[] {
  const chosen = selected.size === 0 ? [] : view.notes.filter(({ id }) => selected.has(id));
  return chosen.length > 0 ? chosen : note ? [note] : [];
}
