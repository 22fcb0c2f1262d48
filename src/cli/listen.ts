import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Candidate } from '@/core/onset/detect';
import { detectPart, joinParts, type Listened, partCount } from '@/core/onset/long';
import { projectRoot } from '@/server/db/open';

/** A recording as one channel of samples, in memory that threads share. */
export interface SharedRecording {
  readonly samples: SharedArrayBuffer;
  readonly frames: number;
  readonly sampleRate: number;
  /** Loudest sample of any channel. */
  readonly peak: number;
}

/** A recording that several threads analyse, and the number of the next free part. */
export interface Listening {
  readonly recording: SharedRecording;
  readonly next: SharedArrayBuffer;
}

/** Parts with their results. */
type HeardParts = readonly (readonly [part: number, candidates: readonly Candidate[]])[];

/** With more threads than this, reading the file is the bottleneck. */
const MOST_THREADS = 4;

function listenedOf({ samples, frames, sampleRate, peak }: SharedRecording): Listened {
  const mono = new Float32Array(samples, 0, frames);
  return { readMono: (start, end) => mono.subarray(start, end), totalFrames: frames, sampleRate, reference: peak };
}

/** Listens to one part after another until all are taken. */
export function detectParts({ recording, next }: Listening): HeardParts {
  const listened = listenedOf(recording);
  const count = partCount(listened);
  const counter = new Int32Array(next);
  const heard: [number, Candidate[]][] = [];
  for (let part = Atomics.add(counter, 0, 1); part < count; part = Atomics.add(counter, 0, 1))
    heard.push([part, detectPart(listened, part)]);
  return heard;
}

/** Finds onsets on all processors; its threads live until it is closed. */
export class Listeners {
  private readonly threads: (Worker | undefined)[] = [];

  /** Starts a thread while a file that will need it is still being read. */
  prepare(): void {
    if (availableParallelism() > 1) this.thread(0);
  }

  async detect(recording: SharedRecording): Promise<Candidate[]> {
    const others = Math.min(MOST_THREADS, availableParallelism(), partCount(listenedOf(recording))) - 1;
    const listening: Listening = { recording, next: new SharedArrayBuffer(4) };
    const answers = Array.from({ length: Math.max(0, others) }, async (_, t): Promise<HeardParts> => {
      const thread = this.thread(t);
      const answer = once(thread, 'message') as Promise<[HeardParts]>;
      thread.postMessage(listening);
      return (await answer)[0];
    });
    const own = detectParts(listening);
    const heard = [own, ...(await Promise.all(answers))].flat().sort(([a], [b]) => a - b);
    return joinParts(
      heard.map(([, candidates]) => candidates),
      recording.sampleRate,
    );
  }

  private thread(t: number): Worker {
    const known = this.threads[t];
    if (known) return known;
    const thread = new Worker(join(projectRoot(), 'dist', 'listen-thread.mjs'));
    this.threads[t] = thread;
    // A failed one has reported its error; the next file gets another.
    thread.once('error', () => {
      this.threads[t] = undefined;
    });
    return thread;
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map((thread) => thread?.terminate()));
  }
}
