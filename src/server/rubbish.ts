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
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
  }
  collect();
}
