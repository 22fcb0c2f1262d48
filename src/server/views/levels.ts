import { UndercroftError } from '@/core/errors';
import { DETECTION_VERSION } from '@/core/onset/detect';
import type { Levels } from '@/core/onset/silence';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** Levels for splitting at silence; throws `not-found` where the recording has not been analysed yet. */
export function readLevels(db: Db, recordingId: string): Levels & { values: Uint8Array<ArrayBuffer> } {
  const row = prepared(
    db,
    `SELECT a.level_step AS step, a.levels, json_extract(t.room, '$.levelDb') AS roomDb
     FROM analysis a LEFT JOIN take t ON t.recording_id = a.recording_id WHERE a.recording_id = ? AND a.version = ?`,
  ).get(recordingId, DETECTION_VERSION) as { step: number; levels: Buffer; roomDb: number | null } | undefined;
  if (!row) throw new UndercroftError('not-found', 'The recording has not been listened to yet.');
  return { step: row.step, roomDb: row.roomDb, values: new Uint8Array(row.levels) };
}
