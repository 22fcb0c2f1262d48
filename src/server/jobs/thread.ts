import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { projectRoot } from '../db/open';
import { sharedTurns } from '../db/turns';
import type { FromWorker, Role, ToWorker, WorkerStart } from './protocol';

/** Heap limits of a thread: a damaged file that exceeds them crashes its thread, not the server. */
const LIMITS = { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 16 };
/** An idle thread is terminated after this long, which frees its decoders and buffers. */
const IDLE_MS = 3000;
/** Interval at which heartbeats are checked. */
export const LOOK_MS = 250;

type Work = Exclude<FromWorker, { type: 'quiet' }>;

/**
 * A worker thread of the server. The first message starts it, and it is terminated when it has been idle for a while. After it has
 * ended, by itself or by force, the next message starts it again.
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
    /** Identity of the workspace's file: another file in its place is not opened. */
    private readonly file: string,
    private readonly hear: (message: Work) => void,
    /** Called when the thread ended with work under way. */
    private readonly broken: () => void,
  ) {}

  /** Whether work is under way. */
  get isBusy(): boolean {
    return this.worker !== null && this.quietAt < this.said;
  }

  /** Time since the last heartbeat of a busy thread, counted in checks: a process that was suspended as a whole does not count. */
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
    // A thread that has not started yet may be waiting for a busy machine.
    const step = beat === 0 ? 1 / 8 : 1;
    this.looks = beat === this.lastBeat && this.isBusy ? this.looks + step : 0;
    this.lastBeat = beat;
  }

  /** Terminates the thread, whatever it is doing. */
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
    // Constructed indirectly: the bundler would try to bundle the module of a plain `new Worker(path)`.
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
    // It may have received another message meanwhile.
    if (heard < this.said) return;
    clearTimeout(this.idle);
    this.idle = setTimeout(() => {
      const { worker } = this;
      this.worker = null;
      void worker?.terminate();
    }, IDLE_MS).unref();
  }
}
