import { createHash, randomUUID } from 'node:crypto';
import { statfsSync } from 'node:fs';
import { dirname } from 'node:path';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { bytesPerFrame, decodeFrames, type PcmFormat } from '@/core/format/pcm';
import { readFileName } from '@/core/naming/file-names';
import { titleFromFileName } from '@/core/naming/names';
import { toMono } from '@/core/signal/audio';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { droppedBytes } from '../rubbish';
import type { FileFindings } from './decoding/decode-file';
import type { PcmSink } from './decoding/sink';
import type { ImportOptions } from './options';
import { PeakBuilder } from './peak-builder';

export const BLOCK_FRAMES = 65536;
/** Bytes written in one transaction: few enough that an edit which must wait for it waits for milliseconds. */
const BYTES_A_TRANSACTION = 4 * 1024 * 1024;
/** Room that is left free on the disk for the history and the journal. */
const KEEP_FREE_BYTES = 200 * 1024 * 1024;
/** Between two looks at the disk's free room: what a small file unfolds to is not known before. */
const BYTES_BETWEEN_LOOKS = 64 * 1024 * 1024;

/**
 * Writes the sound of one file, as it is decoded, to a recording marked as arriving; `finish` marks it ready in one last
 * transaction. `cancel`, or a start-up sweep after a crash, removes what came. Memory stays within a few blocks for any
 * length.
 */
export class RecordingWriter implements PcmSink {
  readonly id = randomUUID();
  private readonly hash = createHash('sha256');
  private format: PcmFormat | null = null;
  private readonly peaks = new PeakBuilder();
  private block: Uint8Array = new Uint8Array(0);
  private filled = 0;
  private waiting: Uint8Array[] = [];
  /** Blocks that have been written, to be filled again. */
  private readonly spare: Uint8Array[] = [];
  private waitingBytes = 0;
  private sinceLook = 0;
  private ordinal = 0;
  private frames = 0;
  private readonly sums: number[] = [];
  private readonly decoded = { notFinite: 0 };

  constructor(
    private readonly db: Db,
    private readonly options: ImportOptions,
  ) {}

  begin(format: PcmFormat): void {
    this.db.pragma('synchronous = NORMAL');
    this.format = format;
    this.block = new Uint8Array(BLOCK_FRAMES * bytesPerFrame(format));
    this.hash.update(`${format.encoding} ${format.sampleRate} ${format.channelCount} `);
    this.sums.push(...Array.from({ length: format.channelCount }, () => 0));
    const { fileName, takeAs, prepare } = this.options;
    prepared(
      this.db,
      `INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, arrived_at,
                              take_as, prepare)
       VALUES (?, ?, 'arriving', ?, ?, ?, ?, ?, ?, ?, ?)`,
    ).run(
      this.id,
      titleFromFileName(fileName),
      fileName.slice(0, 500),
      format.encoding,
      format.validBits,
      format.sampleRate,
      format.channelCount,
      Date.now(),
      takeAs,
      JSON.stringify(prepare),
    );
  }

  take(bytes: Uint8Array): void {
    let rest = bytes;
    while (rest.length > 0) {
      const used = Math.min(rest.length, this.block.length - this.filled);
      this.block.set(rest.subarray(0, used), this.filled);
      this.filled += used;
      rest = rest.subarray(used);
      if (this.filled === this.block.length) this.closeBlock(this.block.length);
    }
  }

  /** Makes the recording ready, or - where the same audio is here already - links the file to that one. */
  finish(findings: FileFindings): ImportAnswer {
    const { format } = this;
    if (!format) throw new UndercroftError('damaged-audio', 'There is no sound in the file that could be decoded.');
    this.closeBlock(this.filled - (this.filled % bytesPerFrame(format)));
    if (this.frames === 0) throw new UndercroftError('damaged-audio', 'There is no sound in the file.');
    const warnings = [...findings.warnings];
    if (this.decoded.notFinite > 0) {
      warnings.push(
        `${this.decoded.notFinite} samples are not numbers (NaN or infinite); they are heard and exported as silence.`,
      );
    }
    const contentHash = this.hash.digest('hex');
    const twin = this.findTwin(contentHash);
    if (twin) {
      this.cancel();
      noteFile(this.db, twin.id, this.options);
      return { recordingId: twin.id, title: twin.title, duplicate: true, warnings };
    }
    this.flush();
    // Blocks are written without waiting for the disk, since a power cut only costs what has not arrived; the transaction
    // that says that all is here waits, for itself and for every one before it (SQLite, "PRAGMA synchronous", WAL).
    this.db.pragma('synchronous = FULL');
    this.db.transaction(() => this.settle(findings, contentHash, warnings)).immediate();
    return { recordingId: this.id, title: titleFromFileName(this.options.fileName), duplicate: false, warnings };
  }

  cancel(): void {
    removeRecording(this.db, this.id);
    this.waiting = [];
  }

  private settle(findings: FileFindings, contentHash: string, warnings: readonly string[]): void {
    const insertTile = prepared(
      this.db,
      'INSERT INTO peak_tile (recording_id, level, ordinal, data) VALUES (?, ?, ?, ?)',
    );
    for (const tile of this.peaks.finish()) insertTile.run(this.id, tile.level, tile.ordinal, tile.data);
    const said = findings.said;
    prepared(
      this.db,
      `UPDATE recording SET state = 'ready', frames = ?, peak = ?, content_hash = ?, warnings = ?, file_kind = ?, said = ?,
              dc = ?, tempo_bpm = ? WHERE id = ?`,
    ).run(
      this.frames,
      this.peaks.peak,
      contentHash,
      JSON.stringify(warnings),
      findings.kind,
      JSON.stringify(said),
      JSON.stringify(this.sums.map((sum) => sum / this.frames)),
      said.tempoBpm ?? readFileName(this.options.fileName).tempoBpm,
      this.id,
    );
    noteFile(this.db, this.id, this.options);
    prepared(this.db, "INSERT INTO job (kind, recording_id, state) VALUES ('analyse', ?, 'waiting')").run(this.id);
  }

  private closeBlock(length: number): void {
    const { format } = this;
    if (!format || length === 0) return;
    const bytes = this.block.subarray(0, length);
    this.hash.update(bytes);
    const channels = decodeFrames(format.encoding, bytes, format.channelCount, this.decoded);
    for (const [c, channel] of channels.entries()) {
      let sum = 0;
      for (let i = 0; i < channel.length; i++) sum += channel[i] as number;
      this.sums[c] = (this.sums[c] as number) + sum;
    }
    this.peaks.add(toMono({ sampleRate: format.sampleRate, channels }));
    this.frames += (channels[0] as Float32Array).length;
    this.waiting.push(bytes);
    this.block = this.spare.pop() ?? new Uint8Array(this.block.length);
    this.waitingBytes += length;
    this.filled = 0;
    if (this.waitingBytes >= BYTES_A_TRANSACTION) this.flush();
  }

  private flush(): void {
    this.sinceLook += this.waitingBytes;
    if (this.sinceLook >= BYTES_BETWEEN_LOOKS) {
      this.sinceLook = 0;
      requireSpace(this.db, BYTES_BETWEEN_LOOKS);
    }
    const insert = prepared(this.db, 'INSERT INTO pcm_block (recording_id, ordinal, data) VALUES (?, ?, ?)');
    this.db
      .transaction(() => {
        for (const bytes of this.waiting) insert.run(this.id, this.ordinal++, bytes);
      })
      .immediate();
    this.spare.push(...this.waiting.filter((bytes) => bytes.length === this.block.length));
    this.waiting = [];
    droppedBytes(this.waitingBytes);
    this.waitingBytes = 0;
  }

  private findTwin(contentHash: string): { id: string; title: string } | undefined {
    return prepared(this.db, "SELECT id, title FROM recording WHERE content_hash = ? AND state = 'ready'").get(
      contentHash,
    ) as { id: string; title: string } | undefined;
  }
}

/** Remembers a name under which a recording's audio has come in. */
function noteFile(db: Db, recordingId: string, { fileName, path }: ImportOptions): void {
  prepared(
    db,
    'INSERT OR IGNORE INTO recording_file (recording_id, file_name, path, arrived_at) VALUES (?, ?, ?, ?)',
  ).run(recordingId, fileName.slice(0, 500), path, Date.now());
}

const BLOCKS_A_TRANSACTION = 16;

/**
 * Removes a recording that no hit needs, its audio first and in small transactions, so that edits elsewhere do not wait
 * for a gigabyte; what a crash leaves over is marked as arriving and swept at the next start.
 */
export function removeRecording(db: Db, id: string): void {
  prepared(db, "UPDATE recording SET state = 'arriving', content_hash = NULL WHERE id = ?").run(id);
  const some = prepared(
    db,
    `DELETE FROM pcm_block WHERE rowid IN (SELECT rowid FROM pcm_block WHERE recording_id = ? LIMIT ${BLOCKS_A_TRANSACTION})`,
  );
  while (some.run(id).changes > 0);
  prepared(db, 'DELETE FROM recording WHERE id = ?').run(id);
}

/** Removes what never finished arriving, as after a crash. Returns how many recordings that were. */
export function sweepArriving(db: Db): number {
  return prepared(db, "DELETE FROM recording WHERE state = 'arriving'").run().changes;
}

export function requireSpace(db: Db, bytes: number): void {
  const { bavail, bsize } = statfsSync(dirname(db.name));
  const free = bavail * bsize - KEEP_FREE_BYTES;
  if (bytes > free) {
    const gb = (n: number) => `${(n / 1e9).toFixed(1)} GB`;
    throw new UndercroftError(
      'storage-full',
      `The file has ${gb(bytes)}; the disk has room for ${gb(Math.max(0, free))}. Free some space and import it again.`,
    );
  }
}
