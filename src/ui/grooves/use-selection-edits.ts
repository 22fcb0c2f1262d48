import { useMemo } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { withoutRev } from '@/contract/groove-changes';
import { nudged } from '@/core/groove/edits';
import type { GrooveNote } from '@/core/groove/model';
import { heldMove, pasted, splitAll, ticksOfMs } from '@/core/groove/selection';
import { useCommands } from '../data/commit';
import { tell } from '../parts/notice';
import { createStore } from '../parts/store';
import { noteChanges, rowMade } from './edits';
import { player } from './player';
import type { ShownRow } from './rows';
import { chosenNotes, type GrooveDesk } from './use-groove-desk';

type Note = Stored<GrooveNote>;

/** Notes that were copied, each with the row it is from. */
const copied = createStore<readonly { readonly note: Note; readonly row: number }[]>([]);
const newId = () => crypto.randomUUID();

/** The shown row of a note, by its number; -1 where it has none. */
export function rowIndexOf(rows: readonly ShownRow[], { rowId }: Pick<GrooveNote, 'rowId'>): number {
  return rows.findIndex(({ rows: own }) => own.some(({ id }) => id === rowId));
}

/** Notes on other rows than their own, by so many, with the rows that are made for them; null where one has no row to go to. */
function onRows(
  { view, rows }: GrooveDesk,
  notes: readonly GrooveNote[],
  rowOf: (note: GrooveNote) => number,
): { readonly notes: GrooveNote[]; readonly made: Change[] } | null {
  const made: Change[] = [];
  const ids = new Map<number, string>();
  const placed: GrooveNote[] = [];
  for (const note of notes) {
    const index = rowOf(note);
    const row = rows[index];
    if (!row || (!row.pad && row.rows.length === 0)) return null;
    if (!ids.has(index)) {
      const { id, changes } = rowMade(view, row, newId);
      made.push(...changes);
      ids.set(index, id);
    }
    placed.push({ ...note, rowId: ids.get(index) as string });
  }
  return { notes: placed, made };
}

/** Edits of the notes that are selected, or of the cell's; each is one gesture. */
export function useSelectionEdits(desk: GrooveDesk) {
  const { commit } = useCommands();
  return useMemo(() => {
    const { view, rows, cell, setSelected } = desk;
    const { groove } = view;
    const chosen = chosenNotes(desk);
    const many = (n: number) => (n === 1 ? 'a note' : `${n} notes`);
    const store = (label: string, changes: readonly Change[]) => {
      if (changes.length === 0) return;
      player.take(changes);
      void commit(label, [...changes]);
    };
    const select = (notes: readonly { readonly id: string }[]) => setSelected(new Set(notes.map(({ id }) => id)));
    const replace = (label: string, after: readonly GrooveNote[]) => store(label, noteChanges(chosen, after));
    const paste = (at: number, byRows: number) => {
      const from = copied.get();
      if (from.length === 0) return tell('Nothing has been copied: select notes and copy them first.');
      const rowOf = new Map(from.map(({ note, row }) => [note.id, row]));
      const placed = from.flatMap(({ note }) => {
        const [copy] = pasted([note], at + note.tick - Math.min(...from.map((one) => one.note.tick)), groove, newId);
        return copy ? [{ copy, row: (rowOf.get(note.id) ?? 0) + byRows }] : [];
      });
      const rowOfCopy = new Map(placed.map(({ copy, row }) => [copy.id, row]));
      const on = onRows(
        desk,
        placed.map(({ copy }) => copy),
        ({ id }) => rowOfCopy.get(id) ?? -1,
      );
      if (!on || on.notes.length === 0) return tell('There is no room for them here.');
      store(`pasted ${many(on.notes.length)}`, [...on.made, ...noteChanges([], on.notes)]);
      select(on.notes);
    };
    const copy = () => {
      copied.set(chosen.map((note) => ({ note, row: rowIndexOf(rows, note) })));
      if (chosen.length > 0) tell(`${many(chosen.length)} copied.`);
    };
    return {
      chosen,
      select,
      /** Moves by ticks and rows; copies instead where that is wanted. */
      move: (notes: readonly Note[], byTicks: number, byRows: number, isCopy: boolean) => {
        if (notes.length === 0 || (byTicks === 0 && byRows === 0)) return;
        const by = heldMove(notes, byTicks, groove);
        const moved = notes.map((note) => ({ ...note, ...(isCopy ? { id: newId() } : {}), tick: note.tick + by }));
        const from = new Map(moved.map((note, i) => [note.id, rowIndexOf(rows, notes[i] as Note)]));
        const on = onRows(desk, moved, ({ id }) => (from.get(id) ?? -1) + byRows);
        if (!on) return tell('There is no row to move them to.');
        const changes = isCopy ? noteChanges([], on.notes) : noteChanges(notes, on.notes);
        store(`${isCopy ? 'copied' : 'moved'} ${many(notes.length)}`, [...on.made, ...changes]);
        select(on.notes);
      },
      resize: (notes: readonly Note[], byTicks: number) => {
        const after = notes.map((note) => ({ ...note, length: Math.max(1, Math.round(note.length + byTicks)) }));
        store(`set the length of ${many(notes.length)}`, noteChanges(notes, after));
      },
      nudge: (ticks: number) =>
        replace(`nudged ${many(chosen.length)} by ${ticks} ticks`, chosen.length ? nudged(chosen, ticks, groove) : []),
      nudgeMs: (ms: number) =>
        replace(
          `nudged ${many(chosen.length)} by ${ms} ms`,
          chosen.length ? nudged(chosen, ticksOfMs(ms, groove.bpm), groove) : [],
        ),
      split: () => replace(`split ${many(chosen.length)}`, splitAll(chosen, newId)),
      remove: () => {
        replace(`took ${many(chosen.length)} away`, []);
        select([]);
      },
      set: (said: string, set: Partial<GrooveNote>) =>
        replace(
          `set the ${said} of ${many(chosen.length)}`,
          chosen.map((note) => ({ ...note, ...set })),
        ),
      /** Sets notes as they are after an edit of their own. */
      put: (label: string, after: readonly GrooveNote[]) => replace(label, after),
      copy,
      cut: () => {
        copy();
        replace(`cut ${many(chosen.length)}`, []);
      },
      /** At the cell, from its row on downwards. */
      paste: () => {
        const top = Math.min(...copied.get().map(({ row }) => row));
        paste(cell.tick, Number.isFinite(top) ? cell.row - top : 0);
      },
      selectAll: () => {
        const { starts, bar, lastBar } = desk;
        const isPart = desk.plays !== 'all' || lastBar > bar;
        const [from, to] = [starts[bar] as number, starts[lastBar + 1] as number];
        select(isPart ? view.notes.filter(({ tick }) => tick >= from && tick < to) : view.notes);
      },
      /** Paints notes on a row, at the ticks that were gone over. */
      paint: (row: ShownRow, notes: readonly Omit<GrooveNote, 'id' | 'rowId'>[]) => {
        const { id, changes } = rowMade(view, row, newId);
        const made = notes.map(
          (note): Change => ({
            op: 'create',
            doc: 'grooveNote',
            id: newId(),
            value: withoutRev({ ...note, rowId: id }),
          }),
        );
        store(`painted ${many(made.length)} on ${row.name}`, [...changes, ...made]);
      },
    };
  }, [desk, commit]);
}

export type SelectionEdits = ReturnType<typeof useSelectionEdits>;
