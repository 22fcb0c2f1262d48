import { createHash } from 'node:crypto';
import { bytesPerFrame, decodeFrames } from '@/core/format/pcm';
import { toMono } from '@/core/signal/audio';
import type { Db } from '../db/open';
import { PeakBuilder } from '../importing/peak-builder';
import { BLOCK_FRAMES } from '../importing/recording-writer';
import { queueJob } from '../jobs/lease';

/** Remedies of faults. None deletes what a person made. */
export interface Mend {
  /** Described in words, before it is applied. */
  readonly does: string;
  run(): void;
}

export function mendUnlistened(db: Db, id: string, title: string): Mend {
  return {
    does: `have "${title}" listened to when the application next runs`,
    run: () => void queueJob(db, 'analyse', id, { unlessRunning: true }),
  };
}

export function mendPeaks(db: Db, id: string, title: string): Mend {
  return {
    does: `work out anew what is drawn of "${title}"`,
    run: () => db.transaction(() => layPeaks(db, id)).immediate(),
  };
}

/** Deletes derived rows whose source is gone. */
export function dropDerived(db: Db, table: string, rowid: number): Mend {
  return {
    does: `take a row out of ${table} that belongs to nothing`,
    run: () => void db.prepare(`DELETE FROM ${table} WHERE rowid = ?`).run(rowid),
  };
}

/** Restores a recording that hits use: the audio that is left keeps its place, missing parts become silence. */
export function mendArriving(db: Db, id: string, title: string): Mend {
  return {
    does: `bring "${title}" back with its hits, silent where its audio is lost`,
    run: () => db.transaction(() => bringBack(db, id)).immediate(),
  };
}

interface Row {
  readonly encoding: Parameters<typeof decodeFrames>[0];
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  readonly warnings: string;
}

function rowOf(db: Db, id: string): Row {
  return db
    .prepare(
      'SELECT encoding, sample_rate AS sampleRate, channel_count AS channelCount, frames, warnings FROM recording WHERE id = ?',
    )
    .get(id) as Row;
}

function bringBack(db: Db, id: string): void {
  const { encoding, sampleRate, channelCount, frames, warnings } = rowOf(db, id);
  const hash = createHash('sha256').update(`${encoding} ${sampleRate} ${channelCount} `);
  const block = db.prepare('SELECT data FROM pcm_block WHERE recording_id = ? AND ordinal = ?');
  const insert = db.prepare('INSERT OR REPLACE INTO pcm_block (recording_id, ordinal, data) VALUES (?, ?, ?)');
  const frameBytes = bytesPerFrame({ encoding, channelCount });
  let lost = 0;
  for (let ordinal = 0; ordinal * BLOCK_FRAMES < frames; ordinal++) {
    const bytes = Math.min(BLOCK_FRAMES, frames - ordinal * BLOCK_FRAMES) * frameBytes;
    let data = (block.get(id, ordinal) as { data: Buffer } | undefined)?.data;
    if (data?.length !== bytes) {
      data = Buffer.alloc(bytes, encoding === 'u8' ? 128 : 0);
      insert.run(id, ordinal, data);
      lost += bytes / frameBytes;
    }
    hash.update(data);
  }
  const contentHash = hash.digest('hex');
  const twin = db.prepare("SELECT id FROM recording WHERE content_hash = ? AND state = 'ready'").get(contentHash) as
    | { id: string }
    | undefined;
  if (twin) {
    // The same audio has been imported again: the hits use that one from now on, and the rest here is deleted.
    db.prepare('UPDATE hit SET recording_id = ?, rev = rev + 1 WHERE recording_id = ?').run(twin.id, id);
    return;
  }
  const seconds = (lost / sampleRate).toFixed(1);
  const said =
    lost > 0 ? [`${seconds} s of its audio were lost while it was being removed; there is silence there.`] : [];
  db.prepare("UPDATE recording SET state = 'ready', rev = rev + 1, content_hash = ?, warnings = ? WHERE id = ?").run(
    contentHash,
    JSON.stringify([...(JSON.parse(warnings) as string[]), ...said]),
    id,
  );
  layPeaks(db, id);
  // It may have been given up meanwhile, as a recording that is not there.
  queueJob(db, 'analyse', id, { unlessRunning: true });
}

/** Peaks and the overall peak, computed from the blocks. */
function layPeaks(db: Db, id: string): void {
  const { encoding, sampleRate, channelCount } = rowOf(db, id);
  const peaks = new PeakBuilder();
  const blocks = db.prepare('SELECT data FROM pcm_block WHERE recording_id = ? ORDER BY ordinal').iterate(id);
  for (const { data } of blocks as IterableIterator<{ data: Buffer }>)
    peaks.add(toMono({ sampleRate, channels: decodeFrames(encoding, data, channelCount) }));
  const tiles = peaks.finish();
  db.prepare('DELETE FROM peak_tile WHERE recording_id = ?').run(id);
  const insert = db.prepare('INSERT INTO peak_tile (recording_id, level, ordinal, data) VALUES (?, ?, ?, ?)');
  for (const tile of tiles) insert.run(id, tile.level, tile.ordinal, tile.data);
  db.prepare('UPDATE recording SET peak = ? WHERE id = ?').run(peaks.peak, id);
}
