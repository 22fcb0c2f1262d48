import { randomUUID } from 'node:crypto';
import type { ImportAnswer } from '@/contract/views';
import { joinBytes } from '@/core/bytes';
import { HEAD_BYTES } from '@/core/format/kind';
import type { Db } from '../db/open';
import { isDiskFull, requireSpace, storageFull } from '../db/reserve';
import { openStream, requireKind } from './decoding/decode-file';
import type { ImportOptions } from './options';
import { RecordingWriter } from './recording-writer';
import { removeArriving } from './removal';
import { Spool, type SpooledFile } from './spool';
import { decodeSpooled } from './spooled';

/** Result of a file that has arrived: a recording, or a spooled file to be decoded. */
export type IntakeEnd = { readonly answer: ImportAnswer } | { readonly spooled: SpooledFile };

/**
 * One file being imported. Uncompressed sound is written to the workspace as it arrives; a compressed file is spooled
 * beside the workspace, because some kinds have their index at the end. Memory stays within a few pieces for any
 * length; data of a failed file is passed to `discard`.
 */
export class Intake {
  private readonly writer: RecordingWriter;
  private stream: ReturnType<typeof openStream> = null;
  private head: Uint8Array | null = new Uint8Array(0);
  private spool: Spool | null = null;
  private seen = 0;

  constructor(
    private readonly db: Db,
    private readonly recordingId: string,
    private readonly options: ImportOptions,
    /** Length of the whole file where it is known, to refuse early what cannot fit on the disk. */
    announcedBytes: number | null,
    private readonly discard: (recordingId: string) => void = (id) => removeArriving(db, id),
  ) {
    if (announcedBytes !== null) requireSpace(db, announcedBytes);
    this.writer = new RecordingWriter(db, recordingId, options, discard);
  }

  write(bytes: Uint8Array): void {
    this.guarded(() => {
      this.seen += bytes.length;
      if (!this.head) {
        this.pass(bytes);
        return;
      }
      this.head = joinBytes([this.head, bytes]);
      if (this.head.length >= HEAD_BYTES) this.start();
    });
  }

  finish(): IntakeEnd {
    return this.guarded(() => {
      if (this.head) this.start();
      if (this.stream) {
        const { warnings, said } = this.stream.finish();
        return { answer: this.writer.finish({ kind: this.stream.kind, warnings, said }) };
      }
      this.spool?.close();
      return { spooled: { recordingId: this.recordingId, options: this.options } };
    });
  }

  /** Deletes what has arrived. */
  cancel(): void {
    this.spool?.remove();
    this.spool = null;
    this.discard(this.recordingId);
  }

  private start(): void {
    const head = this.head as Uint8Array;
    this.head = null;
    // Tags may precede other kinds than MP3: the whole file is needed.
    const tagged = head[0] === 0x49 && head[1] === 0x44 && head[2] === 0x33;
    this.stream = tagged ? null : openStream(requireKind(head, this.seen), this.writer);
    if (!this.stream) this.spool = new Spool(this.db, this.recordingId);
    this.pass(head);
  }

  private pass(bytes: Uint8Array): void {
    if (this.stream) this.stream.push(bytes);
    else this.spool?.write(bytes);
  }

  private guarded<T>(work: () => T): T {
    try {
      return work();
    } catch (error) {
      this.cancel();
      throw isDiskFull(error) ? storageFull() : error;
    }
  }
}

/** Imports a file that is in memory. */
export async function importBytes(db: Db, options: ImportOptions, bytes: Uint8Array): Promise<ImportAnswer> {
  const intake = new Intake(db, randomUUID(), options, bytes.length);
  intake.write(bytes);
  const end = intake.finish();
  return 'answer' in end ? end.answer : decodeSpooled(db, end.spooled);
}
