import type { GrooveListEntry, GrooveView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared, select } from '../history/tables';

/** All grooves, by name. */
export function listGrooves(db: Db): GrooveListEntry[] {
  const counts = new Map(
    prepared(
      db,
      'SELECT r.groove_id AS id, count(*) AS n FROM grooveNote n JOIN grooveRow r ON r.id = n.row_id GROUP BY r.groove_id',
    )
      .all()
      .map((row) => [(row as { id: string }).id, (row as { n: number }).n]),
  );
  return select(db, 'groove', 'ORDER BY name COLLATE NOCASE, id').map(({ id, name, bars, bpm }) => ({
    ...{ id, name, bars, bpm },
    noteCount: counts.get(id) ?? 0,
  }));
}

/** A groove with its rows, their notes, and its lanes. */
export function grooveView(db: Db, id: string): GrooveView {
  const [groove] = select(db, 'groove', 'WHERE id = ?', id);
  if (!groove) throw new UndercroftError('not-found', 'The groove is not there.');
  const rows = select(db, 'grooveRow', 'WHERE groove_id = ? ORDER BY position, id', id);
  const notes = select(
    db,
    'grooveNote',
    'WHERE row_id IN (SELECT id FROM grooveRow WHERE groove_id = ?) ORDER BY tick, id',
    id,
  );
  const lanes = select(db, 'grooveLane', 'WHERE groove_id = ? ORDER BY id', id);
  return { groove, rows, notes, lanes };
}
