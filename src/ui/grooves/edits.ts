import type { DocOf, Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { withoutRev } from '@/contract/groove-changes';
import type { GrooveView } from '@/contract/views';
import type { Rebarred } from '@/core/groove/bars';
import type { GrooveNote } from '@/core/groove/model';
import { NOTE_PARAMETERS } from '@/core/groove/parameters';
import { rowOfPad, type ShownRow } from './rows';

type Note = Stored<GrooveNote>;

const NOTE_FIELDS = [
  'tick',
  'length',
  'rowId',
  ...(Object.keys(NOTE_PARAMETERS) as (keyof typeof NOTE_PARAMETERS)[]),
] as const;

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
      NOTE_FIELDS.filter((field) => was[field] !== note[field]).map((field) => [field, note[field]]),
    );
    return Object.keys(set).length > 0 ? [{ op: 'update', doc: 'grooveNote', id, rev: was.rev, set }] : [];
  });
  return [...gone, ...others];
}

/** The row of the groove that takes new notes of a shown row, and the changes that make it where there is none yet. */
export function rowMade(
  { groove }: Pick<GrooveView, 'groove'>,
  { pad, rows }: Pick<ShownRow, 'pad' | 'rows'>,
  newId: () => string,
): { readonly id: string; readonly changes: Change[] } {
  const [row] = rows;
  if (row) return { id: row.id, changes: [] };
  const id = newId();
  return {
    id,
    changes: pad ? [{ op: 'create', doc: 'grooveRow', id, value: rowOfPad(pad, groove.id) }] : [],
  };
}

/** Changes that place a note on a row, which is made where the groove has none for it yet. */
export function placed(
  view: GrooveView,
  row: ShownRow,
  note: Omit<GrooveNote, 'id' | 'rowId'>,
  newId: () => string,
): Change[] {
  if (!row.pad && row.rows.length === 0) return [];
  const { id, changes } = rowMade(view, row, newId);
  return [...changes, { op: 'create', doc: 'grooveNote', id: newId(), value: { ...note, rowId: id } }];
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
export function barsChanged({ groove, notes, lanes }: GrooveView, made: Rebarred): Change[] {
  const moved = lanes.flatMap((lane, i): Change[] => {
    const { points = [] } = made.lanes[i] ?? lane;
    if (JSON.stringify(points) === JSON.stringify(lane.points)) return [];
    return [{ op: 'update', doc: 'grooveLane', id: lane.id, rev: lane.rev, set: { points } }];
  });
  return [
    { op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set: { bars: made.bars, meters: made.meters } },
    ...noteChanges(notes, made.notes),
    ...moved,
  ];
}
