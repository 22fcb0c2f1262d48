import { createHash } from 'node:crypto';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { bytesPerFrame, decodeFrames, type PcmFormat, requirePlausible } from '@/core/format/pcm';
import { readFileName } from '@/core/naming/file-names';
import { titleFromFileName } from '@/core/naming/names';
import { toMono } from '@/core/signal/audio';
import type { Db } from '../db/open';
import { requireRoomToGoOn } from '../db/reserve';
import { letEditsPass } from '../db/turns';
import { prepared } from '../history/tables';
import { droppedBytes } from '../rubbish';
import type { FileFindings } from './decoding/decode-file';
import type { PcmSink } from './decoding/sink';
import type { ImportOptions } from './options';
import { PeakBuilder } from './peak-builder';

export const BLOCK_FRAMES = 65536;
/** Bytes written in one transaction: few enough that a waiting edit waits for milliseconds. */
const BYTES_A_TRANSACTION = 4 * 1024 * 1024;

/** How a recording is stored where that is not as a file is. */
export interface Storing {
  /** Whether its caller calls `store`, within a transaction of its own. */
  readonly isStoredByCaller: boolean;
  /** Runs in the transaction that marks the recording ready. */
  readonly alsoSettle: () => void;
}

/**
 * Writes the sound of a file, as it is decoded, to a recording marked as arriving; `finish` marks it ready in the last
 * transaction. An aborted one is deleted by its caller, or by the sweep at the next start. Memory stays within a few
 * blocks for any length.
 */
export class RecordingWriter implements PcmSink {
  private readonly hash = createHash('sha256');
  private format: PcmFormat | null = null;
  private readonly peaks = new PeakBuilder();
  private block: Uint8Array = new Uint8Array(0);
  private filled = 0;
  private waiting: Uint8Array[] = [];
  /** Written blocks, to be reused. */
  private readonly spare: Uint8Array[] = [];
  private waitingBytes = 0;
  private ordinal = 0;
  private frames = 0;
  private readonly sums: number[] = [];
  private readonly decoded = { notFinite: 0 };

  constructor(
    private readonly db: Db,
    readonly id: string,
    private readonly options: ImportOptions,
    /** Deletes what was written where the same audio exists already. */
    private readonly discard: (recordingId: string) => void,
    private readonly storing: Storing | null = null,
  ) {}

  begin(format: PcmFormat): void {
    this.prepare(format);
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

  /** Goes on with a recording that an earlier writer began: reads what is stored, as if it had been taken here. */
  resume(format: PcmFormat): void {
    this.prepare(format);
    const blocks = prepared(this.db, 'SELECT data FROM pcm_block WHERE recording_id = ? ORDER BY ordinal').iterate(
      this.id,
    ) as IterableIterator<{ data: Buffer }>;
    for (const { data } of blocks) {
      this.count(format, data);
      this.ordinal++;
    }
  }

  /** Frames taken so far, those of an unfinished block included. */
  get taken(): number {
    return this.frames + (this.format ? this.filled / bytesPerFrame(this.format) : 0);
  }

  /** Whole blocks taken so far. */
  get blocks(): number {
    return this.ordinal + this.waiting.length;
  }

  /** The bytes of the unfinished block; valid until more are taken. */
  get unfinished(): Uint8Array {
    return this.block.subarray(0, this.filled);
  }

  private prepare(format: PcmFormat): void {
    // Headers may be wrong: impossible formats are refused before they reach the store.
    requirePlausible(format.sampleRate, format.channelCount);
    this.format = format;
    this.block = new Uint8Array(BLOCK_FRAMES * bytesPerFrame(format));
    this.hash.update(`${format.encoding} ${format.sampleRate} ${format.channelCount} `);
    this.sums.push(...Array.from({ length: format.channelCount }, () => 0));
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

  /** Marks the recording ready, or - where the same audio exists - links the file to that one. */
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
    const known = this.linkToTwin(contentHash);
    if (known) this.waiting = [];
    else this.flush();
    // The transaction that marks the recording ready waits for the disk, for itself and all before it (SQLite, "PRAGMA
    // synchronous", WAL).
    this.db.pragma('synchronous = FULL');
    // The same audio may have been finished by another thread meanwhile.
    const twin =
      known ??
      this.db
        .transaction(() => this.linkToTwin(contentHash) ?? this.settle(findings, contentHash, warnings))
        .immediate();
    if (!twin)
      return { recordingId: this.id, title: titleFromFileName(this.options.fileName), duplicate: false, warnings };
    this.discard(this.id);
    return { recordingId: twin.id, title: twin.title, duplicate: true, warnings };
  }

  private settle(findings: FileFindings, contentHash: string, warnings: readonly string[]): null {
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
    this.storing?.alsoSettle();
    return null;
  }

  private closeBlock(length: number): void {
    const { format } = this;
    if (!format || length === 0) return;
    const bytes = this.block.subarray(0, length);
    this.count(format, bytes);
    this.waiting.push(bytes);
    this.block = this.spare.pop() ?? new Uint8Array(this.block.length);
    this.waitingBytes += length;
    this.filled = 0;
    if (!this.storing?.isStoredByCaller && this.waitingBytes >= BYTES_A_TRANSACTION) this.flush();
  }

  /** Adds a block to what is known of the whole: hash, peaks, means. */
  private count(format: PcmFormat, bytes: Uint8Array): void {
    this.hash.update(bytes);
    const channels = decodeFrames(format.encoding, bytes, format.channelCount, this.decoded);
    for (const [c, channel] of channels.entries()) {
      let sum = 0;
      for (let i = 0; i < channel.length; i++) sum += channel[i] as number;
      this.sums[c] = (this.sums[c] as number) + sum;
    }
    this.peaks.add(toMono({ sampleRate: format.sampleRate, channels }));
    this.frames += (channels[0] as Float32Array).length;
  }

  private flush(): void {
    // Twice: for the journal and for the file. The decoded size of a compressed file is not known beforehand. The rest of
    // what a caller stores itself has been acknowledged: what imports leave free is for that.
    if (!this.storing?.isStoredByCaller) requireRoomToGoOn(this.db, 2 * this.waitingBytes);
    letEditsPass();
    // A power cut only loses an unfinished import: its blocks do not wait for the disk.
    this.db.pragma('synchronous = NORMAL');
    this.db.transaction(() => this.store()).immediate();
  }

  /** Stores the whole blocks that wait, in the caller's transaction. */
  store(): void {
    const insert = prepared(this.db, 'INSERT INTO pcm_block (recording_id, ordinal, data) VALUES (?, ?, ?)');
    for (const bytes of this.waiting) insert.run(this.id, this.ordinal++, bytes);
    this.spare.push(...this.waiting.filter((bytes) => bytes.length === this.block.length));
    this.waiting = [];
    droppedBytes(this.waitingBytes);
    this.waitingBytes = 0;
  }

  /** The recording with the same audio, after noting this file as another source of it. */
  private linkToTwin(contentHash: string): { id: string; title: string } | undefined {
    const find = () => {
      const twin = prepared(this.db, "SELECT id, title FROM recording WHERE content_hash = ? AND state = 'ready'").get(
        contentHash,
      ) as { id: string; title: string } | undefined;
      if (twin) noteFile(this.db, twin.id, this.options);
      return twin;
    };
    return this.db.inTransaction ? find() : this.db.transaction(find).immediate();
  }
}

/** Records another name under which a recording's audio was imported. */
function noteFile(db: Db, recordingId: string, { fileName, path }: ImportOptions): void {
  prepared(
    db,
    'INSERT OR IGNORE INTO recording_file (recording_id, file_name, path, arrived_at) VALUES (?, ?, ?, ?)',
  ).run(recordingId, fileName.slice(0, 500), path, Date.now());
}
