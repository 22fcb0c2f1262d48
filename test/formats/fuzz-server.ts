import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { startServer } from '../harness';
import { Client, errorOf } from '../server/client';
import { mutate } from './mutate';

/** What a file that nothing is wrong with may take while others are bad. */
const MOST_INNOCENT_MS = 2000;
/** Bad files that are on their way at once. */
const AT_ONCE = 3;

/**
 * Sends bad files of every kind to a server, three at a time, and beside them good ones one after another. Tells whether each bad one
 * was taken in or refused in words, and each good one came in within two seconds.
 */
export async function fuzzServer(folder: string, kinds: readonly string[], cases: number): Promise<boolean> {
  const server = await startServer(join(folder, 'fuzz.db'));
  const client = new Client(server.address);
  const faults: string[] = [];
  const jobs = kinds.flatMap((kind) => Array.from({ length: cases }, (_, n) => ({ kind, n })));
  const files = new Map(kinds.map((kind) => [kind, new Uint8Array(readFileSync(join(folder, kind)))]));
  let read = 0;
  let refused = 0;
  let next = 0;
  const lane = async () => {
    for (let job = jobs[next++]; job; job = jobs[next++]) {
      const { kind, n } = job;
      // Other cases than those that were decoded alone.
      const bytes = mutate(files.get(kind) as Uint8Array, 7_000_003 + n * 7919 + kind.length);
      const { status, body } = await client.importBytes(kind, bytes);
      if (status === 200) read++;
      else if (status < 500) refused++;
      else faults.push(`${kind} ${n}: ${status} ${errorOf(body).message}`);
    }
  };
  const random = seededRandom(8);
  const innocents: number[] = [];
  let over = false;
  const innocent = async () => {
    while (!over) {
      const samples = Float32Array.from({ length: 2000 }, () => random() - 0.5);
      const at = performance.now();
      await client.import('good.wav', writeWav({ sampleRate: 44100, channels: [samples] }, 's16'));
      innocents.push(performance.now() - at);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  };
  const beside = innocent();
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  over = true;
  await beside;
  await server.kill();
  const slowest = Math.max(...innocents);
  console.log(
    `through a server: ${jobs.length} cases: ${read} read, ${refused} refused with a reason, ${faults.length} faults; ${innocents.length} good files beside them, the slowest in ${slowest.toFixed(0)} ms`,
  );
  for (const fault of faults.slice(0, 10)) console.log(`  ${fault}`);
  return faults.length === 0 && slowest < MOST_INNOCENT_MS;
}
