import { parentPort, workerData } from 'node:worker_threads';
import type { FromWorker, WorkerStart } from './protocol';

/** What every worker thread shares with the main thread. */
const { beats } = workerData as WorkerStart;

/** A sign of life: for long work that gives the thread's event loop no turn. */
export function beat(): void {
  Atomics.add(beats, 0, 1);
}

export function say(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  parentPort?.postMessage(message, transfer);
}

const BEAT_MS = 100;

/** Shows signs of life as long as the thread's event loop has its turns. */
export function beatByItself(): void {
  beat();
  setInterval(beat, BEAT_MS).unref();
}
