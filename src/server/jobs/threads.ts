import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { joinBytes } from '@/core/format/bytes';
import { projectRoot } from '../db/open';
import type { ImportOptions } from '../importing/options';
import type { CarriedError, FromWorker, ToWorker, WorkerStart } from './protocol';

interface OpenImport {
  /** Lets the next piece through once the last one is written. */
  taken: () => void;
  decoding: (share: number) => void;
  /** When the thread was given something to do for it; null while it waits for the sender. */
  busySince: number | null;
  settle: { resolve: (answer: ImportAnswer) => void; reject: (error: Error) => void };
}

export interface ImportWatch {
  /** Told 0..1 while a compressed file is decoded after it has arrived. */
  readonly decoding?: (share: number) => void;
  /** Cancels the import, also while it is decoded. */
  readonly signal?: AbortSignal;
}

/** What is carried to the importing thread at a time. */
const PIECE_BYTES = 1024 * 1024;

/** What a thread may hold besides its buffers: a damaged file that wants more ends its thread, not the server. */
const LIMITS = { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 16 };
const LONGEST_SILENCE_MS = 60_000;
/** A thread with nothing to do for so long is ended: decoders and buffers go with it, and the next one begins small. */
const IDLE_MS = 3000;

type Listener = (message: Extract<FromWorker, { type: 'progress' | 'described' | 'settled' | 'removed' }>) => void;

type Role = WorkerStart['role'];

/**
 * The server's worker threads: one writes imports, one analyses, and one helps that to listen where there is much to listen to; each is
 * there while there is something for it to do. A thread that dies is started again when it is needed; the imports it carried fail with a
 * message, the jobs it ran are claimed anew.
 */
export class Threads {
  private readonly workers = new Map<Role, Worker>();
  private readonly open = new Map<number, OpenImport>();
  /** What the importing thread was told to take away and has not said to have done. */
  private removals = 0;
  /** How often the analysing thread was told to look for jobs. */
  private wakes = 0;
  /** Recordings that the helping thread was told to listen to and has not said to be done with. */
  private helps = 0;
  private readonly idle = new Map<Role, NodeJS.Timeout>();
  private nextKey = 1;
  private stopped = false;
  private readonly watching: NodeJS.Timeout;

  constructor(
    private readonly workspace: string,
    private readonly listener: Listener,
  ) {
    this.watching = setInterval(() => this.watch(), 5000).unref();
  }

  /** Has the analysing thread look for jobs. */
  wake(): void {
    this.say('analyse', { type: 'work', n: ++this.wakes });
  }

  /** Carries a file to the importing thread piece by piece, never more than one piece ahead of the disk. */
  async import(
    options: ImportOptions,
    bytes: number | null,
    pieces: AsyncIterable<Uint8Array>,
    { decoding = () => {}, signal }: ImportWatch = {},
  ): Promise<ImportAnswer> {
    const worker = this.needed('import');
    const key = this.nextKey++;
    const say = (message: ToWorker, transfer: ArrayBuffer[] = []) => worker.postMessage(message, transfer);
    let entry: OpenImport | undefined;
    const answer = new Promise<ImportAnswer>((resolve, reject) => {
      entry = { taken: () => {}, decoding, busySince: null, settle: { resolve, reject } };
      this.open.set(key, entry);
    });
    // Settles when the file is refused, be it before its first byte.
    const refused = answer.then(
      () => null,
      () => null,
    );
    say({ type: 'import-begin', key, options, bytes });
    signal?.addEventListener('abort', () => this.open.has(key) && this.giveUp(key));
    const iterator = gathered(pieces, PIECE_BYTES);
    try {
      for (;;) {
        const coming = iterator.next();
        coming.catch(() => {});
        const next = await Promise.race([coming, refused]);
        if (!next) break;
        if (next.done) {
          (entry as OpenImport).busySince = Date.now();
          say({ type: 'import-end', key });
          break;
        }
        const written = new Promise<void>((resolve) => {
          (entry as OpenImport).taken = resolve;
        });
        (entry as OpenImport).busySince = Date.now();
        say({ type: 'import-bytes', key, bytes: next.value }, [next.value.buffer]);
        await Promise.race([written, refused]);
      }
    } catch {
      this.giveUp(key);
    }
    try {
      return await answer;
    } finally {
      this.open.delete(key);
      this.restImporter();
    }
  }

  /** Removes a recording's audio, in the importing thread's own time. */
  remove(recordingId: string): void {
    this.removals++;
    this.say('import', { type: 'remove', recordingId });
  }

  private restImporter(): void {
    if (this.open.size === 0 && this.removals === 0) this.rest('import');
  }

  /** The thread of a role, started if it is not there, and no longer about to be ended. */
  private needed(role: Role): Worker {
    clearTimeout(this.idle.get(role));
    const worker = this.workers.get(role) ?? this.start(role);
    this.workers.set(role, worker);
    return worker;
  }

  private say(role: Role, message: ToWorker): void {
    this.needed(role).postMessage(message);
  }

  /** Ends a thread in a while, unless it is given something to do before. */
  private rest(role: Role): void {
    clearTimeout(this.idle.get(role));
    const end = () => {
      const worker = this.workers.get(role);
      this.workers.delete(role);
      void worker?.terminate();
    };
    this.idle.set(role, setTimeout(end, IDLE_MS).unref());
  }

  private giveUp(key: number): void {
    if (this.workers.has('import')) {
      this.removals++;
      this.say('import', { type: 'import-cancel', key });
    }
    this.open
      .get(key)
      ?.settle.reject(new UndercroftError('cancelled', 'The import was cancelled; nothing of it was kept.'));
  }

  private hearOf(key: number, busySince: number | null): OpenImport | undefined {
    const entry = this.open.get(key);
    if (entry) entry.busySince = busySince;
    return entry;
  }

  /** A decoder that a damaged file has sent round in circles is ended with its thread, which is started again. */
  private watch(): void {
    const now = Date.now();
    const stuck = [...this.open.values()].find((e) => e.busySince !== null && now - e.busySince > LONGEST_SILENCE_MS);
    if (!stuck) return;
    stuck.settle.reject(
      new UndercroftError(
        'damaged-audio',
        'The file could not be decoded: the decoder stood still over it for a minute.',
      ),
    );
    void this.workers.get('import')?.terminate();
  }

  async stop(): Promise<void> {
    clearInterval(this.watching);
    this.stopped = true;
    await Promise.all([...this.workers.values()].map((worker) => worker.terminate()));
  }

  private start(role: Role): Worker {
    const workerData: WorkerStart = { workspace: this.workspace, role };
    // Constructed indirectly: the page bundler takes a plain `new Worker(path)` for a module that it should bundle.
    const worker = Reflect.construct(Worker, [
      join(projectRoot(), 'dist/worker.mjs'),
      { workerData, resourceLimits: LIMITS },
    ]) as Worker;
    worker.unref();
    worker.on('message', (message: FromWorker) => this.hear(message));
    worker.on('error', (error) => console.error(`The ${role} thread failed:`, error));
    worker.on('exit', () => {
      // A thread that was ended because it had nothing to do is missed by no one.
      if (worker !== this.workers.get(role)) return;
      this.workers.delete(role);
      if (this.stopped) return;
      if (role === 'import') {
        this.removals = 0;
        for (const { settle } of this.open.values())
          settle.reject(new Error('The importing thread ended; import the file again.'));
        this.open.clear();
      }
      if (role === 'help') this.helps = 0;
      if (role === 'analyse') setTimeout(() => this.wake(), 1000).unref();
    });
    return worker;
  }

  private hear(message: FromWorker): void {
    switch (message.type) {
      case 'taken':
        this.hearOf(message.key, null)?.taken();
        break;
      case 'decoding':
        this.hearOf(message.key, Date.now())?.decoding(message.share);
        break;
      case 'imported':
        this.open.get(message.key)?.settle.resolve(message.answer);
        break;
      case 'import-failed':
        this.open.get(message.key)?.settle.reject(rebuilt(message.error));
        break;
      case 'idle':
        // It may have been told to look again while it was saying so.
        if (message.n === this.wakes) this.rest('analyse');
        break;
      case 'much-to-hear':
        if (availableParallelism() < 2) break;
        this.helps++;
        this.say('help', { type: 'help', recordingId: message.recordingId });
        break;
      case 'helped':
        this.helps--;
        if (this.helps === 0) this.rest('help');
        break;
      case 'cancelled':
      case 'removed':
        this.removals--;
        this.restImporter();
        if (message.type === 'removed') this.listener(message);
        break;
      case 'progress':
      case 'described':
      case 'settled':
        this.listener(message);
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

function rebuilt({ code, message }: CarriedError): Error {
  return code === 'internal' ? new Error(message) : new UndercroftError(code, message);
}
