import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** One tile of a recording's peaks: 16-bit pairs, or null where there is none. */
export function readPeakTile(db: Db, recordingId: string, level: number, ordinal: number): Buffer | null {
  const row = prepared(db, 'SELECT data FROM peak_tile WHERE recording_id = ? AND level = ? AND ordinal = ?').get(
    recordingId,
    level,
    ordinal,
  ) as { data: Buffer } | undefined;
  return row?.data ?? null;
}
