import type { RecordingTempo } from '@/contract/views';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** Recordings that have a tempo, heard in them or written down, by title; those in the bin are left out. */
export function listTempos(db: Db): RecordingTempo[] {
  return prepared(
    db,
    `SELECT r.id, r.title, ifnull(json_extract(y.rhythm, '$.bpm'), r.tempo_bpm) AS bpm, r.frames,
            r.sample_rate AS sampleRate, ifnull(json_extract(y.rhythm, '$.downbeatFrame'), 0) AS downbeatFrame
     FROM recording r LEFT JOIN rhythm y ON y.recording_id = r.id
     WHERE r.state = 'ready' AND r.binned_at IS NULL AND bpm IS NOT NULL ORDER BY r.title COLLATE NOCASE, r.id`,
  ).all() as RecordingTempo[];
}
