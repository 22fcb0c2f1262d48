import type { Touched } from '@/contract/edits';
import { chancesOf } from '@/core/describe/chances';
import { Describer } from '@/core/describe/description';
import { DESCRIPTION_VERSION, packSound } from '@/core/describe/pack';
import type { Region } from '@/core/onset/split';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { MonoReader } from '../importing/pcm';
import { queueJob } from '../jobs/lease';

/** Slices described between two commits: results appear early, and an edit need not wait long. */
const BATCH = 24;

const MISSING = `
  FROM slice s LEFT JOIN slice_sound f
    ON f.recording_id = s.recording_id AND f.start_frame = s.start_frame AND f.end_frame = s.end_frame AND f.version = ?
  WHERE s.recording_id = ? AND f.version IS NULL`;

/** Number of a recording's slices without a description. */
export function countUnheard(db: Db, recordingId: string): number {
  const { n } = prepared(db, `SELECT count(*) AS n ${MISSING}`).get(DESCRIPTION_VERSION, recordingId) as { n: number };
  return n;
}

/**
 * Queues the description of a recording's remaining slices, unless it is queued already. Returns whether a job was
 * added.
 */
export function listenToMissing(db: Db, recordingId: string): boolean {
  return countUnheard(db, recordingId) > 0 && queueJob(db, 'describe', recordingId, { unlessRunning: true });
}

/** Documents that a rhythm is computed from. */
const HEARD_BY = new Set(['slice', 'cut', 'recording']);

/**
 * Queues described recordings whose slices, time or written tempo have changed, so that their stored rhythm stays
 * current. Returns whether any job was added.
 */
export function relisten(db: Db, touched: readonly Touched[]): boolean {
  const changed = new Set(touched.filter(({ doc }) => HEARD_BY.has(doc)).map(({ scope }) => scope));
  const known = prepared(db, 'SELECT 1 FROM slice_sound WHERE recording_id = ? LIMIT 1');
  return [...changed].filter((id) => known.get(id) !== undefined && queueJob(db, 'describe', id)).length > 0;
}

/**
 * Describes a recording's remaining slices one after another, from its start or its end, and stores the results; `told`
 * is called for every stored batch. Slices that change meanwhile are picked up, and so is another thread that works
 * from the other end: at worst both describe the last batch.
 */
export function describeSlices(db: Db, recordingId: string, from: 'start' | 'end', told: () => void): void {
  const reader = new MonoReader(db, recordingId);
  const describer = new Describer(reader.format.sampleRate);
  const { before, after } = describer.reach;
  const room = new Float32Array(before + after);
  const next = prepared(
    db,
    `SELECT DISTINCT s.start_frame AS startFrame, s.end_frame AS endFrame ${MISSING} ORDER BY s.start_frame ${from === 'start' ? 'ASC' : 'DESC'} LIMIT ${BATCH}`,
  );
  const keep = prepared(
    db,
    'INSERT OR REPLACE INTO slice_sound (recording_id, start_frame, end_frame, version, figures) VALUES (?, ?, ?, ?, ?)',
  );
  for (;;) {
    const regions = next.all(DESCRIPTION_VERSION, recordingId) as Region[];
    if (regions.length === 0) return;
    const found = regions.map((region) => ({ region, bytes: listen(reader, region, describer, room) }));
    db.transaction(() => {
      for (const { region, bytes } of found)
        keep.run(recordingId, region.startFrame, region.endFrame, DESCRIPTION_VERSION, Buffer.from(bytes));
    }).immediate();
    told();
  }
}

function listen(
  reader: MonoReader,
  { startFrame, endFrame }: Region,
  describer: Describer,
  room: Float32Array,
): Uint8Array {
  const { before, after } = describer.reach;
  const from = Math.max(0, startFrame - before);
  const to = Math.min(reader.format.frames, endFrame, startFrame + after);
  const samples = reader.read(from, to, room);
  const figures = describer.describe(samples, startFrame - from, to - from, endFrame - startFrame);
  return packSound(figures, chancesOf(figures));
}
