import { randomUUID } from 'node:crypto';
import type { ImportAnswer } from '@/contract/views';
import { joinBytes } from '@/core/bytes';
import { UndercroftError } from '@/core/errors';
import type { ImportOptions } from '../importing/options';
import type { SpooledFile } from '../importing/spool';
import { rebuilt } from './carried';
import type { FromWorker, Told } from './protocol';
import { Takes } from './takes';
import { Thread } from './thread';

/** An import from its first byte to its answer. */
interface OpenImport {
  readonly key: number;
  readonly recordingId: string;
  /** Resolves when the last piece has been written and the next one may be sent. */
  taken: () => void;
  readonly decoding: (share: number) => void;
  readonly settle: { readonly resolve: (answer: ImportAnswer) => void; readonly reject: (error: Error) => void };
  /** Set when the whole file has arrived and waits to be decoded. */
  file: SpooledFile | null;
}

export interface ImportWatch {
  /** Progress of decoding a compressed file, 0..1. */
  readonly decoding?: (share: number) => void;
  /** Cancels the import, even while it is being decoded. */
  readonly signal?: AbortSignal;
  /** The error to report when the pieces break off; `cancelled` by default. */
  readonly brokenOff?: (error: unknown) => Error;
}

/** Size of the pieces that are sent to the importing thread. */
const PIECE_BYTES = 1024 * 1024;
/** The importing thread runs no decoders, so only a blocked disk can block it. */
const IMPORT_SILENCE_MS = 30_000;
/** A decoder without a heartbeat for this long is suspected: files queued behind it go to another thread. */
const DECODE_DOUBT_MS = 1000;
/** After this long it is terminated. */
const DECODE_SILENCE_MS = 5000;
/** A cancelled decoder that has not stopped after this long is terminated. */
const CANCEL_MS = 2000;
const MOST_DECODERS = 3;

/** A thread that decodes one file at a time. */
interface Decoder {
  readonly thread: Thread;
  current: OpenImport | null;
}

const cancelled = () => new UndercroftError('cancelled', 'The import was cancelled; nothing of it was kept.');

/**
 * Sends files to the threads that import them. One thread receives all files and writes uncompressed ones as they arrive. A
 * compressed file is spooled beside the workspace and then decoded in a thread of its own: decoders are third-party code and
 * files may be damaged, so a decoder that hangs or crashes must not affect another file.
 */
export class Imports {
  readonly takes: Takes;
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
    this.takes = new Takes((message, transfer) => this.receiver.say(message, transfer));
  }

  /** Streams a file to the importing thread, at most one piece ahead of the disk. */
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
    // Settles when the file is refused, even before its first byte.
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

  /** Queues the removal of a claimed recording's audio in the receiving thread. */
  remove(recordingId: string): void {
    this.receiver.say({ type: 'remove', recordingId });
  }

  /** Ends takes that were cut off and removes leftovers of the last run. Called at start-up, before the first import. */
  sweep(): void {
    this.receiver.say({ type: 'take-recover' });
    this.receiver.say({ type: 'sweep' });
  }

  /** Called at each check of the threads: terminates those that have been blocked for too long. */
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

  /** Fails every import under way with `interrupted`, so that its sender starts again, and removes what had arrived. */
  private receiverBroke(): void {
    this.takes.broke();
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

  /** Assigns waiting files to free threads; starts a thread when there is none, or only suspected ones. */
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

  /** Drops a thread that is blocked by its file; the next file gets another thread. */
  private failDecoder(decoder: Decoder, reason: Error): void {
    this.decoders = this.decoders.filter((d) => d !== decoder);
    const { current } = decoder;
    decoder.current = null;
    if (!current) return;
    current.settle.reject(reason);
    this.remove(current.recordingId);
    this.decodeNext();
  }

  /** Marks the thread that decoded a file as free. */
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
      case 'recovered':
        this.told(message);
        break;
      default:
        this.takes.hear(message);
    }
  }
}

/** Joins small pieces (the network delivers 64 kB) into large ones, each in its own buffer. */
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
