/** Frames that Web Audio renders at a time (Web Audio API, "render quantum"). */
export const QUANTUM = 128;
/** Two channels are carried, whatever the source has. */
export const RING_CHANNELS = 2;
/** Gaps that are remembered until they are read. */
const GAPS = 64;

/** Places of the header's integers. Blocks are quanta of 128 frames; their count outlasts 60 days at 48 kHz. */
const At = { written: 0, read: 1, gaps: 2, gapsRead: 3, firstGap: 4 } as const;
const HEADER_BYTES = 4 * (At.firstGap + 2 * GAPS);

/** Sound on its way between the audio thread and a worker. */
export interface SharedSound {
  readonly header: SharedArrayBuffer;
  readonly samples: SharedArrayBuffer;
  readonly blocks: number;
}

/** Shared memory for so many frames of two channels. */
export function newSharedSound(frames: number): SharedSound {
  const blocks = Math.ceil(frames / QUANTUM);
  return {
    header: new SharedArrayBuffer(HEADER_BYTES),
    samples: new SharedArrayBuffer(4 * RING_CHANNELS * QUANTUM * blocks),
    blocks,
  };
}

/** A stretch that did not reach the ring; there are zeros instead. In frames since the ring's first one. */
export interface Gap {
  readonly frame: number;
  readonly frames: number;
}

/**
 * A queue of sound in shared memory for one writer and one reader (L. Lamport, "Specifying concurrent program modules", 1983).
 * Writing and reading allocate nothing.
 */
export class SoundRing {
  private readonly header: Int32Array;
  private readonly samples: Float32Array;
  private readonly blocks: number;

  constructor({ header, samples, blocks }: SharedSound) {
    this.header = new Int32Array(header);
    this.samples = new Float32Array(samples);
    this.blocks = blocks;
  }

  /** Blocks that wait to be read. */
  get waiting(): number {
    return Atomics.load(this.header, At.written) - Atomics.load(this.header, At.read);
  }

  /** Blocks that can be written. */
  get room(): number {
    return this.blocks - this.waiting;
  }

  get isFull(): boolean {
    return this.room <= 0;
  }

  /** Writes a block of 128 frames; a missing channel is silent. The ring must not be full. */
  write(left: Float32Array | undefined, right: Float32Array | undefined): void {
    const written = Atomics.load(this.header, At.written);
    const at = (written % this.blocks) * QUANTUM * RING_CHANNELS;
    this.put(left, at);
    this.put(right, at + QUANTUM);
    Atomics.store(this.header, At.written, written + 1);
  }

  /** Reads a block into both channels from `to` on; the ring must not be empty. */
  read(left: Float32Array, right: Float32Array, to: number): void {
    const read = Atomics.load(this.header, At.read);
    const at = (read % this.blocks) * QUANTUM * RING_CHANNELS;
    for (let i = 0; i < QUANTUM; i++) {
      left[to + i] = this.samples[at + i] as number;
      right[to + i] = this.samples[at + QUANTUM + i] as number;
    }
    Atomics.store(this.header, At.read, read + 1);
  }

  /** Notes that the next `blocks` to be written stand for sound that was lost. */
  noteGap(blocks: number): void {
    const { header } = this;
    const count = Atomics.load(header, At.gaps);
    const at = At.firstGap + 2 * (count % GAPS);
    header[at] = Atomics.load(header, At.written);
    header[at + 1] = blocks;
    Atomics.store(header, At.gaps, count + 1);
  }

  /** The gaps since the last call; of very many only the last ones. */
  takeGaps(): Gap[] {
    const { header } = this;
    const count = Atomics.load(header, At.gaps);
    const from = Math.max(header[At.gapsRead] as number, count - GAPS);
    header[At.gapsRead] = count;
    return Array.from({ length: count - from }, (_, i) => {
      const at = At.firstGap + 2 * ((from + i) % GAPS);
      return { frame: (header[at] as number) * QUANTUM, frames: (header[at + 1] as number) * QUANTUM };
    });
  }

  /** Frames that were read so far. */
  get framesRead(): number {
    return Atomics.load(this.header, At.read) * QUANTUM;
  }

  private put(from: Float32Array | undefined, at: number): void {
    const { samples } = this;
    if (from) for (let i = 0; i < QUANTUM; i++) samples[at + i] = from[i] as number;
    else samples.fill(0, at, at + QUANTUM);
  }
}
