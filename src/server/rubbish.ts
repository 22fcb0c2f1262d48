import { performance } from 'node:perf_hooks';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const BYTES_BETWEEN = 16 * 1024 * 1024;

let collect: (() => void) | null = null;
let since = 0;

/**
 * Called with the bytes of dropped buffers; collects the thread's garbage from time to time. By itself the engine lets
 * 64 MB of unused buffers accumulate in each thread, which is much of the server's memory while hours of sound pass
 * through.
 */
export function droppedBytes(bytes: number): void {
  since += bytes;
  if (since < BYTES_BETWEEN) return;
  since = 0;
  free();
}

function free(): void {
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
}

const LOOK_MS = 4000;
/** A thread that was busy for less of the time is idle: a pause of milliseconds goes unnoticed. */
const IDLE_SHARE = 0.05;
const GROWN_BYTES = 16 * 1024 * 1024;

/**
 * Collects the thread's garbage when it is idle and holds more than after the last time. By itself the engine lets some
 * hundred megabytes accumulate.
 */
export function freeWhenIdle(): void {
  let before = performance.eventLoopUtilization();
  let kept = 0;
  setInterval(() => {
    const now = performance.eventLoopUtilization();
    const { utilization } = performance.eventLoopUtilization(now, before);
    before = now;
    if (utilization > IDLE_SHARE || held() < kept + GROWN_BYTES) return;
    free();
    kept = held();
  }, LOOK_MS).unref();
}

function held(): number {
  const { heapUsed, external } = process.memoryUsage();
  return heapUsed + external;
}
