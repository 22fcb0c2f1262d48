import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** Consecutive tiles of a recording's peaks, at most `count`: 16-bit pairs. Null where there are none. */
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
