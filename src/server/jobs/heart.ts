import { parentPort, workerData } from 'node:worker_threads';
import type { FromWorker, WorkerStart } from './protocol';

/** Start data that every worker thread gets from the main thread. */
const { beats } = workerData as WorkerStart;

/** Counts up the thread's heartbeat. Long synchronous work calls it, because timers do not run meanwhile. */
export function beat(): void {
  Atomics.add(beats, 0, 1);
}

export function say(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  parentPort?.postMessage(message, transfer);
}

const BEAT_MS = 100;

/** Starts a timer that counts up the heartbeat as long as the event loop runs. */
export function beatByItself(): void {
  beat();
  setInterval(beat, BEAT_MS).unref();
}
