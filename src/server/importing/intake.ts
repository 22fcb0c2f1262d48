import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { joinBytes } from '@/core/format/bytes';
import { HEAD_BYTES } from '@/core/format/kind';
import type { Db } from '../db/open';
import { decodeFile, openStream, requireKind } from './decoding/decode-file';
import type { ImportOptions } from './options';
import { RecordingWriter, requireSpace } from './recording-writer';
import { Spool, spoolPath } from './spool';

/**
 * One file coming in. Uncompressed sound is written to the workspace as it arrives; a compressed file is laid down beside
 * the workspace first, since some kinds have their index at the end, and decoded from there in pieces. Either way memory
 * stays within a few pieces for any length, and a failure leaves nothing behind.
 */
export class Intake {
  private readonly writer: RecordingWriter;
  private stream: ReturnType<typeof openStream> = null;
  private head: Uint8Array | null = new Uint8Array(0);
  private spool: Spool | null = null;
  private seen = 0;
  private cancelled = false;

  constructor(
    private readonly db: Db,
    options: ImportOptions,
    /** Length of the whole file where it is known, to refuse early what cannot fit on the disk. */
    announcedBytes: number | null,
    private readonly progress: (share: number) => void = () => {},
  ) {
    if (announcedBytes !== null) requireSpace(db, announcedBytes);
    this.writer = new RecordingWriter(db, options);
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

  async finish(): Promise<ImportAnswer> {
    try {
      if (this.head) this.start();
      if (this.stream) {
        const { warnings, said } = this.stream.finish();
        return this.writer.finish({ kind: this.stream.kind, warnings, said });
      }
      const spool = this.spool as Spool;
      spool.close();
      const findings = await decodeFile(spool.path, this.writer, (share) => {
        if (this.cancelled) throw new UndercroftError('cancelled', 'The import was cancelled; nothing of it was kept.');
        this.progress(share);
      });
      const answer = this.writer.finish(findings);
      this.dropSpool();
      return answer;
    } catch (error) {
      this.cancel();
      throw asStorageError(error);
    }
  }

  /** Removes what has come; a decoding that runs stops at its next piece. */
  cancel(): void {
    this.cancelled = true;
    this.writer.cancel();
    this.dropSpool();
  }

  private start(): void {
    const head = this.head as Uint8Array;
    this.head = null;
    // A tag may stand in front of other kinds than MP3: the whole file tells.
    const tagged = head[0] === 0x49 && head[1] === 0x44 && head[2] === 0x33;
    this.stream = tagged ? null : openStream(requireKind(head, this.seen), this.writer);
    if (!this.stream) {
      this.spool = new Spool(spoolPath(this.db, this.writer.id));
    }
    this.pass(head);
  }

  private pass(bytes: Uint8Array): void {
    if (this.stream) this.stream.push(bytes);
    else this.spool?.write(bytes);
  }

  private dropSpool(): void {
    this.spool?.remove();
    this.spool = null;
  }

  private guarded(work: () => void): void {
    try {
      work();
    } catch (error) {
      this.cancel();
      throw asStorageError(error);
    }
  }
}

/** Takes in a file that lies in memory. */
export async function importBytes(db: Db, options: ImportOptions, bytes: Uint8Array): Promise<ImportAnswer> {
  const intake = new Intake(db, options, bytes.length);
  intake.write(bytes);
  return intake.finish();
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
