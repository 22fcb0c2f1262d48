import { createHash } from 'node:crypto';
import { schemaFor } from '@/contract/documents';
import { DOC_NAMES } from '@/contract/kinds';
import { BYTES_PER_SAMPLE, type SampleEncoding } from '@/core/format/pcm';
import { DETECTION_VERSION } from '@/core/onset/detect';
import type { Db } from '../db/open';
import { readDoc } from '../history/tables';
import { unlistened } from '../jobs/lease';
import { dropDerived, type Mend, mendArriving, mendPeaks, mendUnlistened } from './mends';

/** A fault in words, with a remedy where there is one. */
export interface Fault {
  readonly text: string;
  readonly mend: Mend | null;
}

export interface Findings {
  readonly faults: readonly Fault[];
  readonly counts: Readonly<Record<string, number>>;
}

/**
 * Verifies a workspace: the database itself, every block of audio against its hash, every document against its schema,
 * and that no job or import is stuck. Changes nothing.
 */
export function checkWorkspace(db: Db): Findings {
  const faults: Fault[] = [];
  const find = (text: string, mend: Mend | null = null) => faults.push({ text, mend });
  const integrity = db.pragma('integrity_check') as { integrity_check: string }[];
  for (const row of integrity) if (row.integrity_check !== 'ok') find(`database: ${row.integrity_check}`);
  checkReferences(db, find);
  const counts: Record<string, number> = {};
  for (const doc of DOC_NAMES) {
    const where = doc === 'recording' ? "WHERE state = 'ready'" : '';
    const ids = db.prepare(`SELECT id FROM ${doc} ${where}`).all() as { id: string }[];
    counts[doc] = ids.length;
    for (const { id } of ids) {
      const value = readDoc(db, doc, id)?.value ?? {};
      const result = schemaFor(doc, value).safeParse(value);
      if (!result.success)
        find(`${doc} ${id}: ${result.error.issues[0]?.path.join('.')}: ${result.error.issues[0]?.message}`);
    }
  }
  checkArriving(db, find, counts);
  checkAudio(db, find);
  checkPlaces(db, find);
  for (const { id, title, error } of unlistened(db, DETECTION_VERSION))
    find(
      `${title}: it was not listened to, and nothing waits to do so${error ? ` (${error})` : ''}`,
      mendUnlistened(db, id, title),
    );
  counts.edit = (db.prepare('SELECT count(*) AS n FROM edit').get() as { n: number }).n;
  return { faults, counts };
}

type Find = (text: string, mend?: Mend | null) => void;

/** Tables of derived rows. */
const DERIVED = new Set([
  'pcm_block',
  'peak_tile',
  'take',
  'take_piece',
  'analysis',
  'slice_sound',
  'rhythm',
  'job',
  'recording_file',
  'folder_file',
]);

function checkReferences(db: Db, find: Find): void {
  const rows = db.pragma('foreign_key_check') as { table: string; rowid: number | null; parent: string }[];
  for (const { table, rowid, parent } of rows) {
    const mend = DERIVED.has(table) && rowid !== null ? dropDerived(db, table, rowid) : null;
    find(`${table}: names a ${parent} that is not there`, mend);
  }
}

/** Recordings being imported or removed; nothing may use one. */
function checkArriving(db: Db, find: Find, counts: Record<string, number>): void {
  const rows = db
    .prepare(
      `SELECT r.id, r.title, (SELECT count(*) FROM hit h WHERE h.recording_id = r.id) AS hits
       FROM recording r WHERE r.state = 'arriving'`,
    )
    .all() as { id: string; title: string; hits: number }[];
  counts.arriving = rows.length;
  for (const { id, title, hits } of rows) {
    if (hits > 0)
      find(
        `${title}: it was being removed, but ${hits} ${hits === 1 ? 'hit is' : 'hits are'} made of it`,
        mendArriving(db, id, title),
      );
  }
}

interface AudioRow {
  readonly id: string;
  readonly title: string;
  readonly encoding: SampleEncoding;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  readonly contentHash: string;
}

function checkAudio(db: Db, find: Find): void {
  const rows = db
    .prepare(
      `SELECT id, title, encoding, sample_rate AS sampleRate, channel_count AS channelCount, frames, content_hash AS contentHash
       FROM recording WHERE state = 'ready'`,
    )
    .all() as AudioRow[];
  for (const row of rows) {
    const hash = createHash('sha256').update(`${row.encoding} ${row.sampleRate} ${row.channelCount} `);
    let bytes = 0;
    let next = 0;
    const blocks = db
      .prepare('SELECT ordinal, data FROM pcm_block WHERE recording_id = ? ORDER BY ordinal')
      .iterate(row.id);
    for (const { ordinal, data } of blocks as IterableIterator<{ ordinal: number; data: Buffer }>) {
      if (ordinal !== next++) find(`${row.title}: block ${next - 1} is missing`);
      hash.update(data);
      bytes += data.length;
    }
    if (bytes !== row.frames * row.channelCount * BYTES_PER_SAMPLE[row.encoding])
      find(`${row.title}: holds ${bytes} bytes, not its ${row.frames} frames`);
    if (hash.digest('hex') !== row.contentHash) find(`${row.title}: its audio is not what came in`);
    const peaks = db.prepare('SELECT count(*) AS n FROM peak_tile WHERE recording_id = ?').get(row.id) as { n: number };
    if (peaks.n === 0) find(`${row.title}: has no peaks to draw`, mendPeaks(db, row.id, row.title));
  }
}

function checkPlaces(db: Db, find: Find): void {
  const twice = db.prepare('SELECT kit_id, position FROM pad GROUP BY kit_id, position HAVING count(*) > 1').all() as {
    kit_id: string;
    position: number;
  }[];
  for (const { kit_id, position } of twice) find(`kit ${kit_id}: two sounds on pad ${position}`);
  const outside = db
    .prepare('SELECT h.id FROM hit h JOIN recording r ON r.id = h.recording_id WHERE h.end_frame > r.frames')
    .all() as { id: string }[];
  for (const { id } of outside) find(`hit ${id}: ends after its recording`);
}
