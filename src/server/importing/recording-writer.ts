import { createHash, randomUUID } from 'node:crypto';
import { statfsSync } from 'node:fs';
import { dirname } from 'node:path';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { decodeFrames } from '@/core/format/pcm';
import { bytesPerFrame, type WavFormat } from '@/core/format/wav-header';
import { WavStream } from '@/core/format/wav-stream';
import { titleFromFileName } from '@/core/naming/names';
import { toMono } from '@/core/signal/audio';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { PeakBuilder } from './peak-builder';

export const BLOCK_FRAMES = 65536;
/** Bytes written in one transaction: few enough that an edit which must wait for it waits for milliseconds. */
const BYTES_A_TRANSACTION = 4 * 1024 * 1024;
/** Room that is left free on the disk for the history and the journal. */
const KEEP_FREE_BYTES = 200 * 1024 * 1024;

/**
 * Takes one WAV file in as it arrives and writes its audio, in the source's own encoding, to a recording marked as
 * arriving; `finish` marks it ready in one last transaction. `cancel`, or a start-up sweep after a crash, removes what
 * came. Memory stays within a few blocks for any length.
 */
export class RecordingWriter {
  readonly id = randomUUID();
  private readonly stream: WavStream;
  private readonly hash = createHash('sha256');
  private format: WavFormat | null = null;
  private peaks: PeakBuilder | null = null;
  private block: Uint8Array = new Uint8Array(0);
  private filled = 0;
  private waiting: Uint8Array[] = [];
  private waitingBytes = 0;
  private ordinal = 0;
  private readonly decoded = { notFinite: 0 };

  constructor(
    private readonly db: Db,
    private readonly fileName: string,
    /** Length of the whole file where it is known, to refuse early what cannot fit on the disk. */
    announcedBytes: number | null,
  ) {
    if (announcedBytes !== null) requireSpace(db, announcedBytes);
    this.stream = new WavStream(
      (format) => this.begin(format),
      (bytes) => this.take(bytes),
    );
  }

  write(bytes: Uint8Array): void {
    try {
      this.stream.push(bytes);
    } catch (error) {
      this.cancel();
      throw asStorageError(error);
    }
  }

  finish(): ImportAnswer {
    try {
      return this.complete();
    } catch (error) {
      this.cancel();
      throw asStorageError(error);
    }
  }

  cancel(): void {
    prepared(this.db, 'DELETE FROM recording WHERE id = ?').run(this.id);
    this.waiting = [];
  }

  private begin(format: WavFormat): void {
    this.db.pragma('synchronous = NORMAL');
    this.format = format;
    this.block = new Uint8Array(BLOCK_FRAMES * bytesPerFrame(format));
    this.peaks = new PeakBuilder();
    this.hash.update(`${format.encoding} ${format.sampleRate} ${format.channelCount} `);
    prepared(
      this.db,
      `INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, arrived_at)
       VALUES (?, ?, 'arriving', ?, ?, ?, ?, ?, ?)`,
    ).run(
      this.id,
      titleFromFileName(this.fileName),
      this.fileName.slice(0, 500),
      format.encoding,
      format.validBits,
      format.sampleRate,
      format.channelCount,
      Date.now(),
    );
  }

  private take(bytes: Uint8Array): void {
    let rest = bytes;
    while (rest.length > 0) {
      const used = Math.min(rest.length, this.block.length - this.filled);
      this.block.set(rest.subarray(0, used), this.filled);
      this.filled += used;
      rest = rest.subarray(used);
      if (this.filled === this.block.length) this.closeBlock(this.block.length);
    }
  }

  private closeBlock(length: number): void {
    const { format, peaks } = this;
    if (!format || !peaks || length === 0) return;
    const bytes = this.block.slice(0, length);
    this.hash.update(bytes);
    peaks.add(
      toMono({
        sampleRate: format.sampleRate,
        channels: decodeFrames(format.encoding, bytes, format.channelCount, this.decoded),
      }),
    );
    this.waiting.push(bytes);
    this.waitingBytes += length;
    this.filled = 0;
    if (this.waitingBytes >= BYTES_A_TRANSACTION) this.flush();
  }

  private flush(): void {
    const insert = prepared(this.db, 'INSERT INTO pcm_block (recording_id, ordinal, data) VALUES (?, ?, ?)');
    this.db
      .transaction(() => {
        for (const bytes of this.waiting) insert.run(this.id, this.ordinal++, bytes);
      })
      .immediate();
    this.waiting = [];
    this.waitingBytes = 0;
  }

  private complete(): ImportAnswer {
    const report = this.stream.finish();
    const whole = this.filled - (this.filled % bytesPerFrame(report.format));
    this.closeBlock(whole);
    const warnings = [...report.warnings];
    if (this.decoded.notFinite > 0) {
      warnings.push(
        `${this.decoded.notFinite} samples are not numbers (NaN or infinite); they are heard and exported as silence.`,
      );
    }
    const contentHash = this.hash.digest('hex');
    const twin = this.findTwin(contentHash);
    if (twin) {
      this.cancel();
      return { recordingId: twin.id, title: twin.title, duplicate: true, warnings };
    }
    this.flush();
    // Blocks are written without waiting for the disk, since a power cut only costs what has not arrived; the transaction
    // that says that all is here waits, for itself and for every one before it (SQLite, "PRAGMA synchronous", WAL).
    this.db.pragma('synchronous = FULL');
    const peaks = this.peaks as PeakBuilder;
    const insertTile = prepared(
      this.db,
      'INSERT INTO peak_tile (recording_id, level, ordinal, data) VALUES (?, ?, ?, ?)',
    );
    this.db
      .transaction(() => {
        for (const tile of peaks.finish()) insertTile.run(this.id, tile.level, tile.ordinal, tile.data);
        prepared(
          this.db,
          "UPDATE recording SET state = 'ready', frames = ?, peak = ?, content_hash = ?, warnings = ? WHERE id = ?",
        ).run(report.frames, peaks.peak, contentHash, JSON.stringify(warnings), this.id);
        prepared(this.db, "INSERT INTO job (kind, recording_id, state) VALUES ('analyse', ?, 'waiting')").run(this.id);
      })
      .immediate();
    return { recordingId: this.id, title: titleFromFileName(this.fileName), duplicate: false, warnings };
  }

  private findTwin(contentHash: string): { id: string; title: string } | undefined {
    return prepared(this.db, "SELECT id, title FROM recording WHERE content_hash = ? AND state = 'ready'").get(
      contentHash,
    ) as { id: string; title: string } | undefined;
  }
}

/** Removes what never finished arriving, as after a crash. Returns how many recordings that were. */
export function sweepArriving(db: Db): number {
  return prepared(db, "DELETE FROM recording WHERE state = 'arriving'").run().changes;
}

function requireSpace(db: Db, bytes: number): void {
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

function asStorageError(error: unknown): unknown {
  const code = (error as { code?: string }).code;
  if (code === 'SQLITE_FULL' || code === 'ENOSPC' || code === 'SQLITE_IOERR_WRITE') {
    return new UndercroftError(
      'storage-full',
      'The disk is full. What had arrived of this file was removed; all else is as it was.',
    );
  }
  return error;
}
