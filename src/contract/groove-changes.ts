import type { WholeGroove } from '@/core/groove/midi';
import type { Change } from './edits';

/** A new groove from a whole one, with ids of its own. */
export function createdGroove(
  { groove, rows, notes, lanes }: WholeGroove,
  newId: () => string,
): { id: string; changes: Change[] } {
  const id = newId();
  const ids = new Map(rows.map((row) => [row.id, newId()]));
  return {
    id,
    changes: [
      { op: 'create', doc: 'groove', id, value: contentOf(groove) },
      ...rows.map((row): Change => {
        const { id: rowId, ...value } = row;
        return {
          op: 'create',
          doc: 'grooveRow',
          id: ids.get(rowId) as string,
          value: withoutRev({ ...value, grooveId: id }),
        };
      }),
      ...notes.map((note): Change => {
        const { id: _id, ...value } = note;
        const rowId = ids.get(note.rowId) as string;
        return { op: 'create', doc: 'grooveNote', id: newId(), value: withoutRev({ ...value, rowId }) };
      }),
      ...lanes.map((lane): Change => {
        const { id: _id, ...value } = lane;
        const rowId = lane.rowId === null ? null : (ids.get(lane.rowId) ?? null);
        return { op: 'create', doc: 'grooveLane', id: newId(), value: withoutRev({ ...value, rowId, grooveId: id }) };
      }),
    ],
  };
}

/** A document's value without its id and revision. */
function contentOf(doc: object): Record<string, unknown> {
  const { id: _id, ...value } = withoutRev(doc);
  return value;
}

/** A document's value without its revision. */
export function withoutRev<T extends object>(value: T): Record<string, unknown> {
  const { rev: _rev, ...rest } = value as Record<string, unknown>;
  return rest;
}
