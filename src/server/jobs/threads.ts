import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ImportAnswer } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { joinBytes } from '@/core/format/bytes';
import { projectRoot } from '../db/open';
import type { CarriedError, FromWorker, ToWorker, WorkerStart } from './protocol';

interface OpenImport {
  /** Lets the next piece through once the last one is written. */
  taken: () => void;
  settle: { resolve: (answer: ImportAnswer) => void; reject: (error: Error) => void };
}

/** What is carried to the importing thread at a time. */
const PIECE_BYTES = 1024 * 1024;

type Listener = (message: Extract<FromWorker, { type: 'progress' | 'settled' }>) => void;

/**
 * The server's two worker threads: one writes imports, one analyses. A thread that dies is started again; the imports it
 * carried fail with a message, the jobs it ran are claimed anew.
 */
export class Threads {
  private importer: Worker | null = null;
  private analyser: Worker | null = null;
  private readonly open = new Map<number, OpenImport>();
  private nextKey = 1;
  private stopped = false;

  constructor(
    private readonly workspace: string,
    private readonly listener: Listener,
  ) {}

  /** Has the analysing thread look for jobs. */
  wake(): void {
    this.analyser ??= this.start('analyse');
    this.analyser.postMessage({ type: 'work' } satisfies ToWorker);
  }

  /** Carries a file to the importing thread piece by piece, never more than one piece ahead of the disk. */
  async import(fileName: string, bytes: number | null, pieces: AsyncIterable<Uint8Array>): Promise<ImportAnswer> {
    this.importer ??= this.start('import');
    const worker = this.importer;
    const key = this.nextKey++;
    const say = (message: ToWorker, transfer: ArrayBuffer[] = []) => worker.postMessage(message, transfer);
    let entry: OpenImport | undefined;
    const answer = new Promise<ImportAnswer>((resolve, reject) => {
      entry = { taken: () => {}, settle: { resolve, reject } };
      this.open.set(key, entry);
    });
    // Settles when the file is refused, be it before its first byte.
    const refused = answer.then(
      () => null,
      () => null,
    );
    say({ type: 'import-begin', key, fileName, bytes });
    const iterator = gathered(pieces, PIECE_BYTES);
    try {
      for (;;) {
        const coming = iterator.next();
        coming.catch(() => {});
        const next = await Promise.race([coming, refused]);
        if (!next) break;
        if (next.done) {
          say({ type: 'import-end', key });
          break;
        }
        const written = new Promise<void>((resolve) => {
          (entry as OpenImport).taken = resolve;
        });
        say({ type: 'import-bytes', key, bytes: next.value }, [next.value.buffer]);
        await Promise.race([written, refused]);
      }
    } catch {
      say({ type: 'import-cancel', key });
      this.open.delete(key);
      throw new UndercroftError('cancelled', `The import of "${fileName}" was cancelled; nothing of it was kept.`);
    }
    try {
      return await answer;
    } finally {
      this.open.delete(key);
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await Promise.all([this.importer?.terminate(), this.analyser?.terminate()]);
  }

  private start(role: WorkerStart['role']): Worker {
    const workerData: WorkerStart = { workspace: this.workspace, role };
    // Constructed indirectly: the page bundler takes a plain `new Worker(path)` for a module that it should bundle.
    const worker = Reflect.construct(Worker, [join(projectRoot(), 'dist/worker.cjs'), { workerData }]) as Worker;
    worker.unref();
    worker.on('message', (message: FromWorker) => this.hear(message));
    worker.on('error', (error) => console.error(`The ${role} thread failed:`, error));
    worker.on('exit', () => {
      if (role === 'import') this.importer = null;
      else this.analyser = null;
      if (this.stopped) return;
      if (role === 'import') {
        for (const { settle } of this.open.values())
          settle.reject(new Error('The importing thread ended; import the file again.'));
        this.open.clear();
      } else setTimeout(() => this.wake(), 1000).unref();
    });
    return worker;
  }

  private hear(message: FromWorker): void {
    switch (message.type) {
      case 'taken':
        this.open.get(message.key)?.taken();
        break;
      case 'imported':
        this.open.get(message.key)?.settle.resolve(message.answer);
        break;
      case 'import-failed':
        this.open.get(message.key)?.settle.reject(rebuilt(message.error));
        break;
      case 'progress':
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
