import type { TakeView } from '@/contract/takes';
import type { CutView, RecordingView, StoryView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { DETECTION_VERSION } from '@/core/onset/detect';
import { unpackCandidates } from '../analysis/analyse';
import type { Db } from '../db/open';
import { columnsOf, fromRow, prepared, select } from '../history/tables';
import { stepsOfRecordings } from '../hits/treated';
import type { Listed } from './listing';

const COLUMNS = `
  ${columnsOf('recording', 'r')},
  r.file_name AS fileName, r.file_kind AS fileKind, r.encoding, r.valid_bits AS validBits, r.sample_rate AS sampleRate,
  r.channel_count AS channelCount, r.frames, r.peak, r.warnings, r.arrived_at AS arrivedAt, r.dc AS channelMeans,
  EXISTS (SELECT 1 FROM analysis a WHERE a.recording_id = r.id AND a.version = ${DETECTION_VERSION}) AS analysed,
  CASE WHEN EXISTS (SELECT 1 FROM analysis a WHERE a.recording_id = r.id AND a.version = ${DETECTION_VERSION})
    OR EXISTS (SELECT 1 FROM job j WHERE j.recording_id = r.id AND j.kind = 'analyse' AND j.state IN ('waiting', 'running'))
  THEN NULL ELSE ifnull((SELECT j.error FROM job j WHERE j.recording_id = r.id AND j.kind = 'analyse' ORDER BY j.id DESC LIMIT 1),
    'it was never begun') END AS unlistened,
  (SELECT count(*) FROM slice s WHERE s.recording_id = r.id) AS sliceCount,
  (SELECT count(*) FROM hit h WHERE h.recording_id = r.id AND h.binned_at IS NULL) AS hitCount,
  (SELECT count(DISTINCT l.pad_id) FROM hit h JOIN layer l ON l.hit_id = h.id WHERE h.recording_id = r.id) AS padCount,
  (SELECT json_group_array(DISTINCT f.file_name) FROM recording_file f
   WHERE f.recording_id = r.id AND f.file_name <> r.file_name) AS otherNames,
  (SELECT json_object('sessionId', t.session_id, 'number', t.number, 'source', json(t.source), 'cutOff', t.cut_off,
    'roomDb', json_extract(t.room, '$.levelDb')) FROM take t WHERE t.recording_id = r.id) AS take`;

type Row = Omit<RecordingView, 'warnings' | 'analysed' | 'channelMeans' | 'kits' | 'otherNames' | 'steps' | 'take'> & {
  take: string | null;
  otherNames: string;
  warnings: string;
  channelMeans: string;
  analysed: number;
};

function viewOf(row: Row, kits: readonly string[], steps: RecordingView['steps']): RecordingView {
  return {
    ...(fromRow('recording', row) as unknown as Row),
    warnings: JSON.parse(row.warnings) as string[],
    channelMeans: JSON.parse(row.channelMeans) as number[],
    analysed: row.analysed === 1,
    kits,
    steps,
    otherNames: JSON.parse(row.otherNames) as string[],
    take: row.take === null ? null : takeView(row.take),
  };
}

function takeView(json: string): TakeView {
  const { cutOff, ...take } = JSON.parse(json) as Omit<TakeView, 'isCutOff'> & { cutOff: number };
  return { ...take, isCutOff: cutOff === 1 };
}

/** Recordings that have arrived, those in the bin included, in order of arrival. */
export const RECORDINGS: Listed<RecordingView> = {
  list: 'recordings',
  page(db, after, limit) {
    const [arrivedAt = '-1', id = ''] = after ?? [];
    const rows = prepared(
      db,
      `SELECT ${COLUMNS} FROM recording r WHERE r.state = 'ready' AND (r.arrived_at, r.id) > (?, ?)
       ORDER BY r.arrived_at, r.id LIMIT ?`,
    ).all(Number(arrivedAt), id, limit) as Row[];
    const last = rows.at(-1);
    const next = last && rows.length === limit ? [String(last.arrivedAt), last.id] : null;
    return { rows: viewsOf(db, rows), next };
  },
  byIds: recordingsById,
};

/** All recordings at once. */
export function listRecordings(db: Db): RecordingView[] {
  return viewsOf(
    db,
    prepared(
      db,
      `SELECT ${COLUMNS} FROM recording r WHERE r.state = 'ready' ORDER BY r.arrived_at, r.id`,
    ).all() as Row[],
  );
}

/** Recordings by id, in the given order; unknown ones are left out. */
export function recordingsById(db: Db, ids: readonly string[]): RecordingView[] {
  const statement = prepared(db, `SELECT ${COLUMNS} FROM recording r WHERE r.id = ? AND r.state = 'ready'`);
  return viewsOf(
    db,
    ids.flatMap((id) => (statement.get(id) as Row | undefined) ?? []),
  );
}

function viewsOf(db: Db, rows: readonly Row[]): RecordingView[] {
  // The kits that play something of each.
  const kits = new Map<string, string[]>();
  const uses = prepared(
    db,
    `SELECT DISTINCT h.recording_id AS id, k.name FROM hit h JOIN layer l ON l.hit_id = h.id JOIN pad p ON p.id = l.pad_id
     JOIN kit k ON k.id = p.kit_id WHERE h.recording_id IN (SELECT value FROM json_each(?)) ORDER BY k.name COLLATE NOCASE`,
  ).all(JSON.stringify(rows.map((row) => row.id))) as { id: string; name: string }[];
  for (const row of uses) kits.set(row.id, [...(kits.get(row.id) ?? []), row.name]);
  const steps = stepsOfRecordings(
    db,
    rows.map((row) => row.id),
  );
  return rows.map((row) => viewOf(row, kits.get(row.id) ?? [], steps.get(row.id) ?? []));
}

/** The data of the Slice page for a recording. */
export function cutView(db: Db, recordingId: string): CutView {
  const recording = recordingsById(db, [recordingId])[0];
  if (!recording) throw new UndercroftError('not-found', 'The recording is not there.');
  const [cut = null] = select(db, 'cut', 'WHERE id = ?', recordingId);
  const slices = select(db, 'slice', 'WHERE recording_id = ? ORDER BY start_frame, end_frame', recordingId);
  const found = prepared(db, 'SELECT candidates FROM analysis WHERE recording_id = ? AND version = ?').get(
    recordingId,
    DETECTION_VERSION,
  ) as { candidates: Buffer } | undefined;
  return {
    recording,
    cut,
    slices,
    candidates: found ? unpackCandidates(found.candidates) : [],
    story: storyView(db, recordingId),
  };
}

/** A recording's metadata. */
export function storyView(db: Db, recordingId: string): StoryView {
  const row = prepared(
    db,
    `SELECT r.said, a.overview, t.room FROM recording r LEFT JOIN analysis a ON a.recording_id = r.id
     LEFT JOIN take t ON t.recording_id = r.id WHERE r.id = ? AND r.state = 'ready'`,
  ).get(recordingId) as { said: string | null; overview: Buffer | null; room: string | null } | undefined;
  if (!row) throw new UndercroftError('not-found', 'The recording is not there.');
  const bookmarks = select(db, 'bookmark', 'WHERE recording_id = ? ORDER BY frame, id', recordingId);
  const files = prepared(
    db,
    'SELECT file_name AS fileName, path FROM recording_file WHERE recording_id = ? ORDER BY arrived_at, file_name',
  ).all(recordingId);
  return {
    bookmarks: bookmarks as StoryView['bookmarks'],
    said: row.said === null ? null : (JSON.parse(row.said) as StoryView['said']),
    files: files as StoryView['files'],
    overview: row.overview ? row.overview.toString('base64') : null,
    room: row.room === null ? null : (JSON.parse(row.room) as StoryView['room']),
  };
}
