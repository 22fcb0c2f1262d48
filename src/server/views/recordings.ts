import type { CutView, RecordingView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { unpackCandidates } from '../analysis/analyse';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

const COLUMNS = `
  r.id, r.rev, r.title, r.rights_kind AS rightsKind, r.rights_owner AS rightsOwner, r.rights_text AS rightsText, r.notes,
  r.file_name AS fileName, r.encoding, r.valid_bits AS validBits, r.sample_rate AS sampleRate,
  r.channel_count AS channelCount, r.frames, r.peak, r.warnings, r.arrived_at AS arrivedAt,
  EXISTS (SELECT 1 FROM analysis a WHERE a.recording_id = r.id) AS analysed,
  (SELECT count(*) FROM slice s WHERE s.recording_id = r.id) AS sliceCount,
  (SELECT count(DISTINCT l.hit_id) FROM hit h JOIN layer l ON l.hit_id = h.id WHERE h.recording_id = r.id) AS hitCount`;

type Row = Omit<RecordingView, 'warnings' | 'analysed'> & { warnings: string; analysed: number };

function viewOf(row: Row): RecordingView {
  return { ...row, warnings: JSON.parse(row.warnings) as string[], analysed: row.analysed === 1 };
}

/** All recordings that have arrived, in the order in which they did. */
export function listRecordings(db: Db): RecordingView[] {
  const rows = prepared(
    db,
    `SELECT ${COLUMNS} FROM recording r WHERE r.state = 'ready' ORDER BY r.arrived_at, r.rowid`,
  ).all();
  return (rows as Row[]).map(viewOf);
}

export function recordingsById(db: Db, ids: readonly string[]): RecordingView[] {
  const statement = prepared(db, `SELECT ${COLUMNS} FROM recording r WHERE r.id = ? AND r.state = 'ready'`);
  return ids.flatMap((id) => {
    const row = statement.get(id) as Row | undefined;
    return row ? [viewOf(row)] : [];
  });
}

/** What the Slice page needs of a recording. */
export function cutView(db: Db, recordingId: string): CutView {
  const recording = recordingsById(db, [recordingId])[0];
  if (!recording) throw new UndercroftError('not-found', 'The recording is not there.');
  const cut = prepared(db, 'SELECT id, rev, sensitivity, spacing_ms AS spacingMs FROM cut WHERE id = ?').get(
    recordingId,
  );
  const slices = prepared(
    db,
    `SELECT id, rev, recording_id AS recordingId, start_frame AS startFrame, end_frame AS endFrame, origin, family
     FROM slice WHERE recording_id = ? ORDER BY start_frame, end_frame`,
  ).all(recordingId);
  const found = prepared(db, 'SELECT candidates FROM analysis WHERE recording_id = ?').get(recordingId) as
    | { candidates: Buffer }
    | undefined;
  return {
    recording,
    cut: (cut as CutView['cut']) ?? null,
    slices: slices as CutView['slices'],
    candidates: found ? unpackCandidates(found.candidates) : [],
  };
}
