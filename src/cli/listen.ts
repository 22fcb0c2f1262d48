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

export interface ListenedParts {
  readonly recording: SharedRecording;
  readonly parts: readonly number[];
}

/** Parts with what was found in them. */
export type HeardParts = readonly (readonly [part: number, candidates: readonly Candidate[]])[];

/** With more threads than this, reading the file is what takes the time. */
const MOST_THREADS = 4;

export function listenedOf({ samples, frames, sampleRate, peak }: SharedRecording): Listened {
  const mono = new Float32Array(samples, 0, frames);
  return { readMono: (start, end) => mono.subarray(start, end), totalFrames: frames, sampleRate, reference: peak };
}

/** Finds onsets on all processors; its threads are there until it is closed. */
export class Listeners {
  private readonly threads: Worker[] = [];

  /** Begins a thread while a file that will have something for it to do is still being read. */
  prepare(): void {
    if (availableParallelism() > 1) this.thread(0);
  }

  async detect(recording: SharedRecording): Promise<Candidate[]> {
    const listened = listenedOf(recording);
    const count = partCount(listened);
    const sharers = Math.max(1, Math.min(MOST_THREADS, availableParallelism(), count));
    const share = (n: number) => Array.from({ length: count }, (_, part) => part).filter((p) => p % sharers === n);
    const others = Array.from({ length: sharers - 1 }, async (_, t): Promise<HeardParts> => {
      const thread = this.thread(t);
      const answer = once(thread, 'message') as Promise<[HeardParts]>;
      thread.postMessage({ recording, parts: share(t + 1) } satisfies ListenedParts);
      return (await answer)[0];
    });
    const own: HeardParts = share(0).map((part) => [part, detectPart(listened, part)] as const);
    const heard = [own, ...(await Promise.all(others))].flat().sort(([a], [b]) => a - b);
    return joinParts(
      heard.map(([, candidates]) => candidates),
      recording.sampleRate,
    );
  }

  private thread(t: number): Worker {
    this.threads[t] ??= new Worker(join(projectRoot(), 'dist', 'listen-thread.mjs'));
    return this.threads[t];
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map((thread) => thread.terminate()));
  }
}
