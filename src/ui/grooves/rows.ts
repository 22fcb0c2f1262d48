import type { Stored } from '@/contract/documents';
import type { GrooveView } from '@/contract/views';
import type { GrooveNote, GrooveRow } from '@/core/groove/model';
import { padOfRow } from '@/core/groove/score';
import { noteOf } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';

/** A row as it is shown: a pad of the kit, a row of the groove, or both. */
export interface ShownRow {
  readonly key: string;
  readonly pad: Stored<Pad> | null;
  /** The rows of the groove that this pad plays; the first takes new notes. */
  readonly rows: readonly Stored<GrooveRow>[];
  readonly name: string;
  readonly family: Pad['family'];
  /** No pad of the kit has its role or note: another of its family plays it, or nothing. */
  readonly isSubstitute: boolean;
  readonly notes: readonly Stored<GrooveNote>[];
  /** What lanes move of it, in words: '' where nothing does. */
  readonly moved: string;
}

/**
 * The rows of a groove with a kit: the pads as they lie, the highest row of the keyboard first, then rows that no pad plays.
 * `onlyUsed` leaves pads without notes out.
 */
export function shownRows(view: GrooveView, pads: readonly Stored<Pad>[], onlyUsed: boolean): ShownRow[] {
  const notes = new Map<string, Stored<GrooveNote>[]>();
  for (const note of view.notes) {
    const own = notes.get(note.rowId);
    if (own) own.push(note);
    else notes.set(note.rowId, [note]);
  }
  const played = new Map<string, Stored<GrooveRow>[]>();
  const others: ShownRow[] = [];
  const notesOf = (rows: readonly GrooveRow[]) => rows.flatMap(({ id }) => notes.get(id) ?? []);
  const movedOf = (rows: readonly GrooveRow[]) =>
    view.lanes
      .filter(({ rowId, points }) => points.length > 0 && rows.some(({ id }) => id === rowId))
      .map(({ step, parameter }) => `${step === '' ? '' : `${step}, `}${saidOf(parameter)}`)
      .join(', ');
  for (const row of view.rows) {
    const found = padOfRow(row, pads);
    if (found && !found.isSubstitute) played.set(found.pad.id, [...(played.get(found.pad.id) ?? []), row]);
    else
      others.push({
        key: row.id,
        pad: found?.pad ?? null,
        rows: [row],
        name: row.role || `note ${row.note}`,
        family: row.family,
        isSubstitute: true,
        notes: notesOf([row]),
        moved: movedOf([row]),
      });
  }
  const own = [...pads]
    .sort((a, b) => rank(a.position) - rank(b.position))
    .map((pad): ShownRow => {
      const rows = played.get(pad.id) ?? [];
      const name = pad.role || pad.name;
      return {
        key: pad.id,
        pad,
        rows,
        name,
        family: pad.family,
        isSubstitute: false,
        notes: notesOf(rows),
        moved: movedOf(rows),
      };
    });
  // A row without notes that no pad has says nothing any more.
  const kept = others.filter((row) => row.notes.length > 0);
  const used = own.filter((row) => row.notes.length > 0 || row.moved !== '');
  return [...(onlyUsed ? used : own), ...kept];
}

/** What a moved parameter is called. */
function saidOf(parameter: string): string {
  const key = parameter.split('.').at(-1) ?? parameter;
  return PAD_PARAMETERS[key as keyof typeof PAD_PARAMETERS]?.said ?? key;
}

/** From the top row of the keyboard down, each from left to right. */
function rank(position: number): number {
  return -8 * Math.floor(position / 8) + (position % 8);
}

/** A new row of a groove for a pad. */
export function rowOfPad(pad: Pad, grooveId: string): Omit<GrooveRow, 'id'> {
  const { role, family, position } = pad;
  return { grooveId, position, role, note: noteOf(pad), family, muted: false, alone: false };
}

/** Rows as they are now, those that say the same as before being the same objects: they need not be drawn anew. */
export function keptRows(before: readonly ShownRow[], now: readonly ShownRow[]): readonly ShownRow[] {
  const known = new Map(before.map((row) => [row.key, row]));
  return now.map((row) => {
    const old = known.get(row.key);
    return old && isSame(old, row) ? old : row;
  });
}

function isSame(a: ShownRow, b: ShownRow): boolean {
  const { rows: rowsOfA, notes: notesOfA, ...restOfA } = a;
  const { rows: rowsOfB, notes: notesOfB, ...restOfB } = b;
  const isEqual = (key: keyof typeof restOfA) => restOfA[key] === restOfB[key];
  const hasSame = (of: readonly object[], other: readonly object[]) =>
    of.length === other.length && of.every((one, i) => one === other[i]);
  return (
    (Object.keys(restOfA) as (keyof typeof restOfA)[]).every(isEqual) &&
    hasSame(rowsOfA, rowsOfB) &&
    hasSame(notesOfA, notesOfB)
  );
}
