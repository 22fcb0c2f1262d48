import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { DOCUMENTS, type DocName } from '@/contract/documents';
import { BYTES_PER_SAMPLE, type SampleEncoding } from '@/core/format/pcm';
import { type Db, openWorkspace } from '@/server/db/open';
import { readDoc } from '@/server/history/tables';
import { workspacePath } from '@/server/workspace';

/** Verifies a workspace: the database itself, every block of audio against its hash, every document against its schema. */
export function runCheck(options: { workspace?: string; json: boolean }): void {
  const path = options.workspace ?? workspacePath();
  if (!existsSync(path)) throw new Error(`There is no workspace at ${path}.`);
  const db = openWorkspace(path, { migrate: false });
  const { faults, counts } = checkWorkspace(db);
  db.close();
  if (options.json) process.stdout.write(`${JSON.stringify({ path, counts, faults })}\n`);
  else {
    for (const fault of faults) process.stdout.write(`${fault}\n`);
    const what = Object.entries(counts).map(([name, n]) => `${n} ${name}`);
    process.stdout.write(`${what.join(', ')}: ${faults.length === 0 ? 'all sound' : `${faults.length} faults`}\n`);
  }
  if (faults.length > 0) process.exitCode = 1;
}

export function checkWorkspace(db: Db): { faults: string[]; counts: Record<string, number> } {
  const faults: string[] = [];
  const integrity = db.pragma('integrity_check') as { integrity_check: string }[];
  for (const row of integrity) if (row.integrity_check !== 'ok') faults.push(`database: ${row.integrity_check}`);
  for (const row of db.pragma('foreign_key_check') as { table: string; parent: string }[]) {
    faults.push(`${row.table}: names a ${row.parent} that is not there`);
  }
  const counts: Record<string, number> = {};
  for (const doc of Object.keys(DOCUMENTS) as DocName[]) {
    const ids = db.prepare(`SELECT id FROM ${doc}`).all() as { id: string }[];
    counts[doc] = ids.length;
    for (const { id } of ids) {
      const result = DOCUMENTS[doc].safeParse(readDoc(db, doc, id)?.value);
      if (!result.success)
        faults.push(`${doc} ${id}: ${result.error.issues[0]?.path.join('.')}: ${result.error.issues[0]?.message}`);
    }
  }
  checkAudio(db, faults);
  checkPlaces(db, faults);
  counts.edit = (db.prepare('SELECT count(*) AS n FROM edit').get() as { n: number }).n;
  return { faults, counts };
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

function checkAudio(db: Db, faults: string[]): void {
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
      if (ordinal !== next++) faults.push(`${row.title}: block ${next - 1} is missing`);
      hash.update(data);
      bytes += data.length;
    }
    if (bytes !== row.frames * row.channelCount * BYTES_PER_SAMPLE[row.encoding])
      faults.push(`${row.title}: holds ${bytes} bytes, not its ${row.frames} frames`);
    if (hash.digest('hex') !== row.contentHash) faults.push(`${row.title}: its audio is not what came in`);
    const peaks = db.prepare('SELECT count(*) AS n FROM peak_tile WHERE recording_id = ?').get(row.id) as { n: number };
    if (peaks.n === 0) faults.push(`${row.title}: has no peaks to draw`);
  }
}

function checkPlaces(db: Db, faults: string[]): void {
  const twice = db.prepare('SELECT kit_id, position FROM pad GROUP BY kit_id, position HAVING count(*) > 1').all() as {
    kit_id: string;
    position: number;
  }[];
  for (const { kit_id, position } of twice) faults.push(`kit ${kit_id}: two sounds on pad ${position}`);
  const outside = db
    .prepare('SELECT h.id FROM hit h JOIN recording r ON r.id = h.recording_id WHERE h.end_frame > r.frames')
    .all() as { id: string }[];
  for (const { id } of outside) faults.push(`hit ${id}: ends after its recording`);
}
