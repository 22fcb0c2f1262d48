import { randomUUID } from 'node:crypto';
import type { ImportAnswer } from '@/contract/views';
import { joinBytes } from '@/core/bytes';
import { UndercroftError } from '@/core/errors';
import type { ImportOptions } from '../importing/options';
import type { SpooledFile } from '../importing/spool';
import { rebuilt } from './carried';
import type { FromWorker, Told } from './protocol';
import { Thread } from './thread';

/** An import from its first byte until it is answered. */
interface OpenImport {
  readonly key: number;
  readonly recordingId: string;
  /** Lets the next piece through once the last one is written. */
  taken: () => void;
  readonly decoding: (share: number) => void;
  readonly settle: { readonly resolve: (answer: ImportAnswer) => void; readonly reject: (error: Error) => void };
  /** Set once it has wholly arrived and is to be decoded. */
  file: SpooledFile | null;
}

export interface ImportWatch {
  /** Told 0..1 while a compressed file is decoded after it has arrived. */
  readonly decoding?: (share: number) => void;
  /** Cancels the import, also while it is decoded. */
  readonly signal?: AbortSignal;
  /** What it means that the pieces break off; cancelled, unless it is said here. */
  readonly brokenOff?: (error: unknown) => Error;
}

/** What is carried to the importing thread at a time. */
const PIECE_BYTES = 1024 * 1024;
/** The importing thread runs no decoders; it stands still only over a disk that does. */
const IMPORT_SILENCE_MS = 30_000;
/** A decoder that shows no sign of life for so long is taken to be stuck: first the files behind it go to another thread ... */
const DECODE_DOUBT_MS = 1000;
/** ... then it is ended. */
const DECODE_SILENCE_MS = 5000;
/** A cancelled decoder that has not stopped by then is ended. */
const CANCEL_MS = 2000;
const MOST_DECODERS = 3;

/** A thread that decodes one file at a time. */
interface Decoder {
  readonly thread: Thread;
  current: OpenImport | null;
}

const cancelled = () => new UndercroftError('cancelled', 'The import was cancelled; nothing of it was kept.');

/**
 * Carries files to the threads that take them in. One thread receives all files and writes the uncompressed ones as they come. A
 * compressed file is laid down beside the workspace, and then decoded alone in a thread of its own, since decoders are other people's
 * code and files are damaged: one that stands still or dies takes no other file with it.
 */
export class Imports {
  private readonly receiver: Thread;
  private decoders: Decoder[] = [];
  private readonly open = new Map<number, OpenImport>();
  private readonly waiting: OpenImport[] = [];
  private nextKey = 1;

  constructor(
    private readonly workspace: string,
    private readonly file: string,
    private readonly told: (message: Told) => void,
  ) {
    this.receiver = new Thread(
      'import',
      workspace,
      file,
      (message) => this.hear(message),
      () => this.receiverBroke(),
    );
  }

  /** Carries a file in piece by piece, never more than one piece ahead of the disk. */
  async import(
    options: ImportOptions,
    bytes: number | null,
    pieces: AsyncIterable<Uint8Array>,
    { decoding = () => {}, signal, brokenOff = cancelled }: ImportWatch = {},
  ): Promise<ImportAnswer> {
    const key = this.nextKey++;
    const recordingId = randomUUID();
    let entry: OpenImport | undefined;
    const answer = new Promise<ImportAnswer>((resolve, reject) => {
      entry = { key, recordingId, taken: () => {}, decoding, settle: { resolve, reject }, file: null };
      this.open.set(key, entry);
    });
    const mine = entry as OpenImport;
    // Settles when the file is refused, be it before its first byte.
    const refused = answer.then(
      () => null,
      () => null,
    );
    const giveUp = (reason: Error) => {
      if (this.open.get(key) === mine) this.giveUp(mine, reason);
    };
    if (signal?.aborted) giveUp(cancelled());
    else this.receiver.say({ type: 'import-begin', key, recordingId, options, bytes });
    signal?.addEventListener('abort', () => giveUp(cancelled()));
    const iterator = gathered(pieces, PIECE_BYTES);
    try {
      for (;;) {
        const coming = iterator.next();
        coming.catch(() => {});
        const next = await Promise.race([coming, refused]);
        if (!next) break;
        if (next.done) {
          this.receiver.say({ type: 'import-end', key });
          break;
        }
        const written = new Promise<void>((resolve) => {
          mine.taken = resolve;
        });
        this.receiver.say({ type: 'import-bytes', key, bytes: next.value }, [next.value.buffer]);
        await Promise.race([written, refused]);
      }
    } catch (error) {
      giveUp(brokenOff(error));
    }
    try {
      return await answer;
    } finally {
      this.open.delete(key);
    }
  }

  /** Takes away the audio of a recording that was claimed for it, in the receiving thread's own time. */
  remove(recordingId: string): void {
    this.receiver.say({ type: 'remove', recordingId });
  }

  /** Takes away what was left when the application last ended; for its start, before the first import. */
  sweep(): void {
    this.receiver.say({ type: 'sweep' });
  }

  /** Called at each look: no thread may stand still for long. */
  watch(): void {
    this.receiver.look();
    if (this.receiver.silentMs > IMPORT_SILENCE_MS) void this.receiver.end();
    for (const decoder of this.decoders) {
      decoder.thread.look();
      if (decoder.thread.silentMs > DECODE_SILENCE_MS) {
        this.failDecoder(
          decoder,
          new UndercroftError(
            'damaged-audio',
            `The file could not be decoded: the decoder stood still over it for ${DECODE_SILENCE_MS / 1000} seconds.`,
          ),
        );
        void decoder.thread.end();
      }
    }
    this.decodeNext();
  }

  async stop(): Promise<void> {
    await Promise.all([this.receiver, ...this.decoders.map((d) => d.thread)].map((thread) => thread.end()));
  }

  private giveUp(entry: OpenImport, reason: Error): void {
    const { key, recordingId } = entry;
    entry.settle.reject(reason);
    const decoder = this.decoders.find((d) => d.current === entry);
    const at = this.waiting.indexOf(entry);
    if (at >= 0) {
      this.waiting.splice(at, 1);
      this.remove(recordingId);
    } else if (decoder) {
      decoder.thread.say({ type: 'decode-cancel', key });
      setTimeout(() => decoder.current === entry && void decoder.thread.end(), CANCEL_MS).unref();
    } else this.receiver.say({ type: 'import-cancel', key });
  }

  /** Every file that was on its way is begun again by its sender; what came of it is taken away. */
  private receiverBroke(): void {
    for (const entry of [...this.open.values()]) {
      if (entry.file) continue;
      entry.settle.reject(
        new UndercroftError(
          'interrupted',
          'The import was broken off by a fault of the server; it can be begun again.',
        ),
      );
      this.open.delete(entry.key);
      this.remove(entry.recordingId);
    }
  }

  /** Gives files that wait to threads that are free: a new one where there is none, or none that is not in doubt. */
  private decodeNext(): void {
    while (this.waiting.length > 0) {
      let free = this.decoders.find((d) => d.current === null);
      if (!free) {
        const inDoubt = this.decoders.every((d) => d.thread.silentMs >= DECODE_DOUBT_MS);
        if (!inDoubt || this.decoders.length >= MOST_DECODERS) return;
        free = this.newDecoder();
      }
      const entry = this.waiting.shift() as OpenImport;
      free.current = entry;
      free.thread.say({ type: 'decode', key: entry.key, file: entry.file as SpooledFile });
    }
  }

  private newDecoder(): Decoder {
    const decoder: Decoder = {
      thread: new Thread(
        'decode',
        this.workspace,
        this.file,
        (message) => this.hear(message),
        () => {
          this.failDecoder(
            decoder,
            new UndercroftError(
              'damaged-audio',
              'The file could not be decoded: it wants more memory than a file may, or stops the decoder.',
            ),
          );
        },
      ),
      current: null,
    };
    this.decoders.push(decoder);
    return decoder;
  }

  /** Lets go of a thread whose file has stopped it; the next file gets another one. */
  private failDecoder(decoder: Decoder, reason: Error): void {
    this.decoders = this.decoders.filter((d) => d !== decoder);
    const { current } = decoder;
    decoder.current = null;
    if (!current) return;
    current.settle.reject(reason);
    this.remove(current.recordingId);
    this.decodeNext();
  }

  /** The thread that decoded a file is free for the next one. */
  private decoded(key: number): void {
    const decoder = this.decoders.find((d) => d.current?.key === key);
    if (!decoder) return;
    decoder.current = null;
    this.decodeNext();
  }

  private hear(message: FromWorker): void {
    switch (message.type) {
      case 'taken':
        this.open.get(message.key)?.taken();
        break;
      case 'spooled': {
        const entry = this.open.get(message.key);
        if (!entry) {
          this.remove(message.file.recordingId);
          break;
        }
        entry.file = message.file;
        this.waiting.push(entry);
        this.decodeNext();
        break;
      }
      case 'decoding':
        this.open.get(message.key)?.decoding(message.share);
        break;
      case 'imported':
        this.decoded(message.key);
        this.open.get(message.key)?.settle.resolve(message.answer);
        break;
      case 'import-failed':
        this.decoded(message.key);
        this.open.get(message.key)?.settle.reject(rebuilt(message.error));
        break;
      case 'left-over':
        this.remove(message.recordingId);
        break;
      case 'removed':
        this.told(message);
        break;
      default:
        break;
    }
  }
}

/** Gathers what comes in small pieces - the network's are 64 kB - into large ones, each in a buffer of its own. */
async function* gathered(pieces: AsyncIterable<Uint8Array>, size: number): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let held: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of pieces) {
    held.push(piece);
    bytes += piece.length;
    if (bytes < size) continue;
    yield joinBytes(held);
    held = [];
    bytes = 0;
  }
  if (bytes > 0) yield joinBytes(held);
}
