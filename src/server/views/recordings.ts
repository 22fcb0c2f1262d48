import type { CutView, RecordingView, StoryView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { DETECTION_VERSION } from '@/core/onset/detect';
import { unpackCandidates } from '../analysis/analyse';
import type { Db } from '../db/open';
import { columnsOf, fromRow, prepared } from '../history/tables';

const COLUMNS = `
  ${columnsOf('recording', 'r')},
  r.file_name AS fileName, r.file_kind AS fileKind, r.encoding, r.valid_bits AS validBits, r.sample_rate AS sampleRate,
  r.channel_count AS channelCount, r.frames, r.peak, r.warnings, r.arrived_at AS arrivedAt, r.dc AS channelMeans,
  EXISTS (SELECT 1 FROM analysis a WHERE a.recording_id = r.id AND a.version = ${DETECTION_VERSION}) AS analysed,
  (SELECT count(*) FROM slice s WHERE s.recording_id = r.id) AS sliceCount,
  (SELECT count(*) FROM hit h WHERE h.recording_id = r.id AND h.binned_at IS NULL) AS hitCount,
  (SELECT count(DISTINCT l.pad_id) FROM hit h JOIN layer l ON l.hit_id = h.id WHERE h.recording_id = r.id) AS padCount,
  (SELECT json_group_array(DISTINCT f.file_name) FROM recording_file f
   WHERE f.recording_id = r.id AND f.file_name <> r.file_name) AS otherNames`;

type Row = Omit<RecordingView, 'warnings' | 'analysed' | 'channelMeans' | 'kits' | 'otherNames'> & {
  otherNames: string;
  warnings: string;
  channelMeans: string;
  analysed: number;
};

function viewOf(row: Row, kits: readonly string[]): RecordingView {
  return {
    ...fromRow<Row>(row),
    warnings: JSON.parse(row.warnings) as string[],
    channelMeans: JSON.parse(row.channelMeans) as number[],
    analysed: row.analysed === 1,
    kits,
    otherNames: JSON.parse(row.otherNames) as string[],
  };
}

/** Names of the kits that play something of each recording. */
function kitsByRecording(db: Db, id?: string): Map<string, string[]> {
  const rows = prepared(
    db,
    `SELECT DISTINCT h.recording_id AS id, k.name FROM hit h JOIN layer l ON l.hit_id = h.id JOIN pad p ON p.id = l.pad_id
     JOIN kit k ON k.id = p.kit_id ${id === undefined ? '' : 'WHERE h.recording_id = ?'} ORDER BY k.name COLLATE NOCASE`,
  ).all(...(id === undefined ? [] : [id])) as { id: string; name: string }[];
  const kits = new Map<string, string[]>();
  for (const row of rows) kits.set(row.id, [...(kits.get(row.id) ?? []), row.name]);
  return kits;
}

/** All recordings that have arrived, those in the bin included, in the order in which they did. */
export function listRecordings(db: Db): RecordingView[] {
  const rows = prepared(
    db,
    `SELECT ${COLUMNS} FROM recording r WHERE r.state = 'ready' ORDER BY r.arrived_at, r.rowid`,
  ).all() as Row[];
  const kits = kitsByRecording(db);
  return rows.map((row) => viewOf(row, kits.get(row.id) ?? []));
}

export function recordingsById(db: Db, ids: readonly string[]): RecordingView[] {
  const statement = prepared(db, `SELECT ${COLUMNS} FROM recording r WHERE r.id = ? AND r.state = 'ready'`);
  return ids.flatMap((id) => {
    const row = statement.get(id) as Row | undefined;
    return row ? [viewOf(row, kitsByRecording(db, id).get(id) ?? [])] : [];
  });
}

/** What the Slice page needs of a recording. */
export function cutView(db: Db, recordingId: string): CutView {
  const recording = recordingsById(db, [recordingId])[0];
  if (!recording) throw new UndercroftError('not-found', 'The recording is not there.');
  const cut = prepared(db, `SELECT ${columnsOf('cut')} FROM cut WHERE id = ?`).get(recordingId);
  const slices = prepared(
    db,
    `SELECT ${columnsOf('slice')} FROM slice WHERE recording_id = ? ORDER BY start_frame, end_frame`,
  )
    .all(recordingId)
    .map((row) => fromRow<CutView['slices'][number]>(row));
  const found = prepared(db, 'SELECT candidates FROM analysis WHERE recording_id = ? AND version = ?').get(
    recordingId,
    DETECTION_VERSION,
  ) as { candidates: Buffer } | undefined;
  return {
    recording,
    cut: cut ? fromRow<NonNullable<CutView['cut']>>(cut) : null,
    slices,
    candidates: found ? unpackCandidates(found.candidates) : [],
    story: storyView(db, recordingId),
  };
}

/** What is known of a recording besides its sound. */
export function storyView(db: Db, recordingId: string): StoryView {
  const row = prepared(
    db,
    `SELECT r.said, a.overview FROM recording r LEFT JOIN analysis a ON a.recording_id = r.id
     WHERE r.id = ? AND r.state = 'ready'`,
  ).get(recordingId) as { said: string | null; overview: Buffer | null } | undefined;
  if (!row) throw new UndercroftError('not-found', 'The recording is not there.');
  const bookmarks = prepared(
    db,
    `SELECT ${columnsOf('bookmark')} FROM bookmark WHERE recording_id = ? ORDER BY frame, id`,
  ).all(recordingId);
  const files = prepared(
    db,
    'SELECT file_name AS fileName, path FROM recording_file WHERE recording_id = ? ORDER BY arrived_at, file_name',
  ).all(recordingId);
  return {
    bookmarks: bookmarks as StoryView['bookmarks'],
    said: row.said === null ? null : (JSON.parse(row.said) as StoryView['said']),
    files: files as StoryView['files'],
    overview: row.overview ? row.overview.toString('base64') : null,
  };
}
