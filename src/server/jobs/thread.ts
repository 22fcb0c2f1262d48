import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { projectRoot } from '../db/open';
import { sharedTurns } from '../db/turns';
import type { FromWorker, Role, ToWorker, WorkerStart } from './protocol';

/** What a thread may hold besides its buffers: a damaged file that wants more ends its thread, not the server. */
const LIMITS = { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 16 };
/** A thread with nothing to do for so long is ended: decoders and buffers go with it, and the next one begins small. */
const IDLE_MS = 3000;
/** Threads are looked at this often. */
export const LOOK_MS = 250;

type Work = Exclude<FromWorker, { type: 'quiet' }>;

/**
 * A worker thread of the server, there while there is something for it to do. It is started by the first message and ended when it has
 * been quiet for a while. A thread that is `ended` by itself or by force is started anew by the next message.
 */
export class Thread {
  private worker: Worker | null = null;
  private readonly beats = new Int32Array(new SharedArrayBuffer(4));
  private said = 0;
  private quietAt = 0;
  private lastBeat = 0;
  private looks = 0;
  private idle: NodeJS.Timeout | undefined;

  constructor(
    private readonly role: Role,
    private readonly workspace: string,
    /** Names the workspace's file: another one in its place is not opened. */
    private readonly file: string,
    private readonly hear: (message: Work) => void,
    /** Told when the thread ended in the middle of something. */
    private readonly broken: () => void,
  ) {}

  /** Whether something was asked for that is not done. */
  get isBusy(): boolean {
    return this.worker !== null && this.quietAt < this.said;
  }

  /** How long, by the looks taken, a busy thread has shown no sign of life. Looks do not pass while the whole process stands still. */
  get silentMs(): number {
    return this.isBusy ? this.looks * LOOK_MS : 0;
  }

  say(message: ToWorker, transfer: ArrayBuffer[] = []): void {
    clearTimeout(this.idle);
    this.worker ??= this.start();
    this.said++;
    this.worker.postMessage(message, transfer);
  }

  /** Called every `LOOK_MS`. */
  look(): void {
    const beat = Atomics.load(this.beats, 0);
    // One that has not begun may be waiting for a busy machine.
    const step = beat === 0 ? 1 / 8 : 1;
    this.looks = beat === this.lastBeat && this.isBusy ? this.looks + step : 0;
    this.lastBeat = beat;
  }

  /** Ends the thread whatever it does. */
  async end(): Promise<void> {
    clearTimeout(this.idle);
    await this.worker?.terminate();
  }

  private start(): Worker {
    this.said = 0;
    this.quietAt = 0;
    this.looks = 0;
    this.lastBeat = 0;
    Atomics.store(this.beats, 0, 0);
    const workerData: WorkerStart = {
      workspace: this.workspace,
      file: this.file,
      role: this.role,
      beats: this.beats,
      turns: sharedTurns(),
    };
    // Constructed indirectly: the page bundler takes a plain `new Worker(path)` for a module that it should bundle.
    const worker = Reflect.construct(Worker, [
      join(projectRoot(), 'dist/worker.mjs'),
      { workerData, resourceLimits: LIMITS },
    ]) as Worker;
    worker.unref();
    worker.on('message', (message: FromWorker) => {
      if (message.type === 'quiet') this.rest(message.heard);
      else this.hear(message);
    });
    worker.on('error', (error) => console.error(`The ${this.role} thread failed:`, error));
    worker.on('exit', () => {
      if (worker !== this.worker) return;
      const inTheMiddle = this.isBusy;
      this.worker = null;
      if (inTheMiddle) this.broken();
    });
    return worker;
  }

  private rest(heard: number): void {
    this.quietAt = heard;
    // It may have been told something else while it was saying so.
    if (heard < this.said) return;
    clearTimeout(this.idle);
    this.idle = setTimeout(() => {
      const { worker } = this;
      this.worker = null;
      void worker?.terminate();
    }, IDLE_MS).unref();
  }
}
