import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** Tiles of a recording's peaks one after another, `count` of them or as many as there are from there: 16-bit pairs. Null where there is none. */
export function readPeakTiles(
  db: Db,
  recordingId: string,
  level: number,
  ordinal: number,
  count: number,
): Buffer | null {
  const rows = prepared(
    db,
    'SELECT data FROM peak_tile WHERE recording_id = ? AND level = ? AND ordinal BETWEEN ? AND ? ORDER BY ordinal',
  ).all(recordingId, level, ordinal, ordinal + count - 1) as { data: Buffer }[];
  return rows.length > 0 ? Buffer.concat(rows.map(({ data }) => data)) : null;
}
