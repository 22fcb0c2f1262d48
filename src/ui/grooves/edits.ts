import type { DocOf, Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { withoutRev } from '@/contract/groove-changes';
import type { GrooveView } from '@/contract/views';
import type { Rebarred } from '@/core/groove/edits';
import type { GrooveNote } from '@/core/groove/model';
import { rowOfPad, type ShownRow } from './rows';

type Note = Stored<GrooveNote>;

/** Changes that turn notes into others: by id, what is new, changed and gone. */
export function noteChanges(before: readonly Note[], after: readonly GrooveNote[]): Change[] {
  const known = new Map(before.map((note) => [note.id, note]));
  const kept = new Set(after.map(({ id }) => id));
  const gone = before
    .filter(({ id }) => !kept.has(id))
    .map(({ id, rev }): Change => ({ op: 'remove', doc: 'grooveNote', id, rev }));
  const others = after.flatMap((note): Change[] => {
    const { id, ...value } = note;
    const was = known.get(id);
    if (!was) return [{ op: 'create', doc: 'grooveNote', id, value: withoutRev(value) }];
    const set = Object.fromEntries(
      (['tick', 'length', 'velocity', 'strokes', 'ramp', 'rowId'] as const)
        .filter((field) => was[field] !== note[field])
        .map((field) => [field, note[field]]),
    );
    return Object.keys(set).length > 0 ? [{ op: 'update', doc: 'grooveNote', id, rev: was.rev, set }] : [];
  });
  return [...gone, ...others];
}

/** Changes that place a note on a row, which is made where the groove has none for it yet. */
export function placed(
  { groove }: GrooveView,
  { pad, rows }: ShownRow,
  note: Omit<GrooveNote, 'id' | 'rowId'>,
  newId: () => string,
): Change[] {
  const [row] = rows;
  if (row) return [{ op: 'create', doc: 'grooveNote', id: newId(), value: { ...note, rowId: row.id } }];
  if (!pad) return [];
  const rowId = newId();
  return [
    { op: 'create', doc: 'grooveRow', id: rowId, value: rowOfPad(pad, groove.id) },
    { op: 'create', doc: 'grooveNote', id: newId(), value: { ...note, rowId } },
  ];
}

/** Changes of a field of a shown row, which is made where the groove has none for it yet. */
export function rowChanged(
  { groove }: GrooveView,
  { pad, rows }: ShownRow,
  set: Partial<Pick<DocOf<'grooveRow'>, 'muted' | 'alone'>>,
  newId: () => string,
): Change[] {
  if (rows.length > 0) return rows.map(({ id, rev }) => ({ op: 'update', doc: 'grooveRow', id, rev, set }));
  return pad ? [{ op: 'create', doc: 'grooveRow', id: newId(), value: { ...rowOfPad(pad, groove.id), ...set } }] : [];
}

/** Changes that give a groove other bars. */
export function barsChanged({ groove, notes }: GrooveView, { bars, meters, notes: after }: Rebarred): Change[] {
  return [
    { op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set: { bars, meters } },
    ...noteChanges(notes, after),
  ];
}
