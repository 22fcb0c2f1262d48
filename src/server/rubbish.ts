import { performance } from 'node:perf_hooks';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const BYTES_BETWEEN = 16 * 1024 * 1024;

let collect: (() => void) | null = null;
let since = 0;

/**
 * Told how many bytes of buffers have been used and dropped, has the thread's unused memory freed from time to time. Left
 * to itself the engine lets 64 MB of buffers that nobody needs gather in each thread before it looks; where hours of sound
 * pass through in pieces, that is much of what the server holds.
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
/** A thread that was busy for less of the time is idle: nobody notices that it stops for some milliseconds. */
const IDLE_SHARE = 0.05;
const GROWN_BYTES = 16 * 1024 * 1024;

/**
 * Has the thread's unused memory freed when it has nothing to do and holds more than after the last time. The engine by itself lets
 * what pages were made of gather up to some hundred megabytes, as long as the machine has them.
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
