import { type Audio, byteLength, silence } from '@/core/signal/audio';
import { ByteCache } from '@/core/signal/byte-cache';

/** Facts about a recording needed to read its samples. */
export interface BlockSource {
  readonly id: string;
  readonly channelCount: number;
  readonly sampleRate: number;
  readonly frames: number;
}

export const BLOCK_FRAMES = 1 << 14;
/** Blocks fetched in one request: about a megabyte of stereo 24-bit sound. */
const RUN_BLOCKS = 16;

/**
 * Caches recordings' samples by blocks: each block serves every stretch that overlaps it, so that a trim fetches
 * little.
 */
export class Blocks<R extends BlockSource> {
  private readonly kept: ByteCache<Audio>;

  /** Caches at most so many bytes; `fetchAudio` gives frames [start, end) of a recording. */
  constructor(
    mostBytes: number,
    private readonly fetchAudio: (recording: R, start: number, end: number) => Promise<Audio>,
  ) {
    this.kept = new ByteCache(mostBytes, byteLength);
  }

  /** Whether frames [start, end) can be read without fetching. */
  has(recording: R, start: number, end: number): boolean {
    return missing(this.kept, recording, start, end).length === 0;
  }

  /** Frames [start, end), clipped to the recording. */
  async read(recording: R, start: number, end: number): Promise<Audio> {
    const { sampleRate, channelCount, frames } = recording;
    const [from, to] = [Math.max(0, start), Math.min(frames, end)];
    const audio = silence(Math.max(0, to - from), channelCount, sampleRate);
    // A few blocks at a time: a long stretch need not fit in the cache.
    for (let run = from; run < to; run = afterRun(run)) {
      const runEnd = Math.min(to, afterRun(run));
      const blocks = await this.blocksOf(recording, run, runEnd);
      for (const [index, block] of blocks) {
        const at = index * BLOCK_FRAMES;
        const [first, last] = [Math.max(run, at), Math.min(runEnd, at + BLOCK_FRAMES)];
        for (const [c, channel] of audio.channels.entries())
          channel.set((block.channels[c] as Float32Array).subarray(first - at, last - at), first - from);
      }
    }
    return audio;
  }

  private async blocksOf(recording: R, start: number, end: number): Promise<ReadonlyMap<number, Audio>> {
    const found = new Map<number, Audio>();
    const wanted = missing(this.kept, recording, start, end);
    for (const index of blockRange(start, end)) {
      const known = this.kept.get(keyOf(recording, index));
      if (known) found.set(index, known);
    }
    const [first, last] = [wanted[0], wanted.at(-1)];
    if (first === undefined || last === undefined) return found;
    const base = first * BLOCK_FRAMES;
    const fetched = await this.fetchAudio(recording, base, Math.min(recording.frames, (last + 1) * BLOCK_FRAMES));
    for (let index = first; index <= last; index++) {
      const at = index * BLOCK_FRAMES - base;
      const channels = fetched.channels.map((channel) => channel.slice(at, at + BLOCK_FRAMES));
      const block = { sampleRate: fetched.sampleRate, channels };
      this.kept.set(keyOf(recording, index), block);
      found.set(index, block);
    }
    return found;
  }
}

function missing(kept: ByteCache<Audio>, recording: BlockSource, start: number, end: number): number[] {
  return blockRange(Math.max(0, start), Math.min(recording.frames, end)).filter((i) => !kept.has(keyOf(recording, i)));
}

/** Indices of the blocks that frames [start, end) lie in. */
function blockRange(start: number, end: number): number[] {
  if (end <= start) return [];
  const first = Math.floor(start / BLOCK_FRAMES);
  return Array.from({ length: Math.floor((end - 1) / BLOCK_FRAMES) - first + 1 }, (_, i) => first + i);
}

/** The frame at which the next run of blocks begins. */
function afterRun(frame: number): number {
  return (Math.floor(frame / (RUN_BLOCKS * BLOCK_FRAMES)) + 1) * RUN_BLOCKS * BLOCK_FRAMES;
}

/** The last block of a growing recording gets a new key as it grows. */
function keyOf({ id, frames }: BlockSource, index: number): string {
  return `${id} ${index} ${Math.min(BLOCK_FRAMES, frames - index * BLOCK_FRAMES)}`;
}
