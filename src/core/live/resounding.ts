import { Kernel } from '../kernel/kernel';
import { STEP } from './figures';
import { BLOCK } from './limits';
import { LENGTHS, type RoomLayout, type RoomParts, roomLayout } from './room-size';
import { Transform } from './transform';

/** Frames after the end of a response until the last of it has gone through. */
const LATE = 2 * Math.max(...LENGTHS);

/** What all rooms of a thread work with. */
interface Workshop {
  readonly first: FirstBlock;
  readonly transforms: readonly Transform[];
}

let workshop: Workshop | null = null;

/** Makes what all rooms of a thread share, before the first sounds. */
export function readyRooms(): Workshop {
  workshop ??= { first: new FirstBlock(), transforms: LENGTHS.map((length) => new Transform(2 * length)) };
  return workshop;
}

/** The first block of a response, sample by sample, in a kernel of its own. */
class FirstBlock {
  private readonly kernel = new Kernel();
  private readonly places = [2 * BLOCK, 2 * BLOCK, 2 * BLOCK].map((floats) => this.kernel.run.reserve(4 * floats));
  private readonly x = this.kernel.floats(this.places[0] as number, 2 * BLOCK);
  private readonly h = this.kernel.floats(this.places[1] as number, 2 * BLOCK);
  /** What came of it, left and right by turns. */
  readonly out = this.kernel.floats(this.places[2] as number, 2 * BLOCK);

  /** Takes `count` frames through the response at float `h` of memory; before the first lies the rest of a block, from `x` on. */
  run(memory: Float32Array, x: number, h: number, count: number): void {
    const [from, responses, out] = this.places as [number, number, number];
    for (let i = 0; i < count + BLOCK - 1; i++) this.x[i] = memory[x + i] as number;
    for (let i = 0; i < 2 * BLOCK; i++) this.h[i] = memory[h + i] as number;
    this.kernel.run.throughPair(from, count, responses, BLOCK, out);
  }
}

/**
 * A running sound through the response of a room, without delay: its first block by its samples, the rest in parts by
 * transforms, the longer the later they come, whose work is spread over the blocks between (W. Gardner, "Efficient
 * convolution without input-output delay", J. Audio Eng. Soc. 43, 1995). Blocks end where the engine's clock is a multiple
 * of their length.
 */
export class Resounding {
  private layout: RoomLayout = roomLayout(0);
  private at = 0;
  /** For each length of part, spectra of past blocks that there are, and the place of the latest. */
  private readonly known = new Int32Array(LENGTHS.length);
  private readonly latest = new Int32Array(LENGTHS.length);
  /** The layout of a response of the frames given last. */
  private frames = -1;

  /** Begins in silence with the response at float `at` of memory, which has so many frames. */
  reset(memory: Float32Array, at: number, frames: number): void {
    readyRooms();
    if (frames !== this.frames) this.layout = roomLayout(frames);
    this.frames = frames;
    this.at = at;
    this.known.fill(0);
    for (const { history, past, sums, out, length } of this.layout.parts) {
      memory.fill(0, at + history, at + past);
      memory.fill(0, at + sums, at + (out === sums ? out : out + 2 * length));
    }
  }

  /** Frames after which nothing is heard of a sound. */
  get tail(): number {
    return this.frames + LATE;
  }

  /** Mixes what comes back into `count` frames; they lie within one block of the clock. */
  process(
    memory: Float32Array,
    left: Float64Array,
    right: Float64Array,
    from: number,
    count: number,
    clock: number,
    now: Float64Array,
  ): void {
    const { layout, at } = this;
    const mix = now[STEP.mix] as number;
    const { parts } = layout;
    const inBlock = clock % BLOCK;
    const history = at + (parts[0] as RoomParts).history + BLOCK + inBlock;
    for (let i = 0; i < count; i++)
      memory[history + i] = ((left[from + i] as number) + (right[from + i] as number)) / 2;
    for (let level = 1; level < parts.length; level++) {
      const of = parts[level] as RoomParts;
      if (of.count === 0) continue;
      const to = at + of.history + of.length + (clock % of.length);
      for (let i = 0; i < count; i++) memory[to + i] = memory[history + i] as number;
    }
    const { first } = readyRooms();
    first.run(memory, history - BLOCK + 1, at, count);
    for (let i = 0; i < count; i++) {
      left[from + i] = (1 - mix) * (left[from + i] as number) + mix * (first.out[2 * i] as number);
      right[from + i] = (1 - mix) * (right[from + i] as number) + mix * (first.out[2 * i + 1] as number);
    }
    for (let level = 0; level < parts.length; level++) {
      const of = parts[level] as RoomParts;
      if (of.count === 0) continue;
      const out = at + of.out + (clock % of.length);
      for (let i = 0; i < count; i++) {
        left[from + i] = (left[from + i] as number) + mix * (memory[out + i] as number);
        right[from + i] = (right[from + i] as number) + mix * (memory[out + of.length + i] as number);
      }
    }
    if (inBlock + count !== BLOCK) return;
    for (let level = 0; level < parts.length; level++)
      if ((parts[level] as RoomParts).count > 0) this.endBlock(memory, level, clock - inBlock);
  }

  /** What is done for the parts of one length where a block that began at a frame of the clock ends. */
  private endBlock(memory: Float32Array, level: number, clock: number): void {
    const of = this.layout.parts[level] as RoomParts;
    const blocks = of.length / BLOCK;
    const block = (clock % of.length) / BLOCK;
    // Those of a block are worked on with the block that has just ended, all at once.
    if (level === 0) this.takeBlock(memory, level, of);
    this.addParts(
      memory,
      level,
      of,
      Math.floor((of.count * block) / blocks),
      Math.floor((of.count * (block + 1)) / blocks),
    );
    if (block < blocks - 1) return;
    const sums = this.at + of.sums;
    giveSound(readyRooms().transforms[level] as Transform, memory, sums, memory, this.at + of.out, of.length);
    memory.fill(0, sums, sums + 4 * (of.length + 1));
    if (level > 0) this.takeBlock(memory, level, of);
  }

  /** Takes in the spectrum of the block that has ended. */
  private takeBlock(memory: Float32Array, level: number, of: RoomParts): void {
    const places = of.count + 1;
    const latest = ((this.latest[level] as number) + 1) % places;
    this.latest[level] = latest;
    if ((this.known[level] as number) < of.count) this.known[level] = (this.known[level] as number) + 1;
    const history = this.at + of.history;
    const past = this.at + of.past + latest * 2 * (of.length + 1);
    takeSpectrum(readyRooms().transforms[level] as Transform, memory, history, past);
    memory.copyWithin(history, history + of.length, history + 2 * of.length);
  }

  /** Adds the products of some of the parts with past blocks. */
  private addParts(memory: Float32Array, level: number, of: RoomParts, first: number, end: number): void {
    const bins = of.length + 1;
    const places = of.count + 1;
    const latest = this.latest[level] as number;
    const last = Math.min(this.known[level] as number, end);
    for (let part = first; part < last; part++) {
      const past = this.at + of.past + ((latest - part + places) % places) * 2 * bins;
      addProduct(memory, past, this.at + of.response + part * 4 * bins, memory, this.at + of.sums, bins);
    }
  }
}

/** The spectrum of a transform's length of samples. */
function takeSpectrum(transform: Transform, memory: Float32Array, from: number, to: number): void {
  const { re, im, size } = transform;
  for (let i = 0; i < size; i++) re[i] = memory[from + i] as number;
  im.fill(0);
  transform.run();
  const { outRe, outIm } = transform;
  const bins = size / 2 + 1;
  for (let k = 0; k < bins; k++) {
    memory[to + k] = outRe[k] as number;
    memory[to + bins + k] = outIm[k] as number;
  }
}

/** Adds the products of a past spectrum with both sides of a part of the response to sums, left then right. */
function addProduct(
  memory: Float32Array,
  past: number,
  response: number,
  sums: Float32Array,
  to: number,
  bins: number,
): void {
  const other = response + 2 * bins;
  for (let k = 0; k < bins; k++) {
    const re = memory[past + k] as number;
    const im = memory[past + bins + k] as number;
    const leftRe = memory[response + k] as number;
    const leftIm = memory[response + bins + k] as number;
    const rightRe = memory[other + k] as number;
    const rightIm = memory[other + bins + k] as number;
    sums[to + k] = (sums[to + k] as number) + re * leftRe - im * leftIm;
    sums[to + bins + k] = (sums[to + bins + k] as number) + re * leftIm + im * leftRe;
    sums[to + 2 * bins + k] = (sums[to + 2 * bins + k] as number) + re * rightRe - im * rightIm;
    sums[to + 3 * bins + k] = (sums[to + 3 * bins + k] as number) + re * rightIm + im * rightRe;
  }
}

/**
 * The second half of the sound of two spectra, left then right, as `length` frames of each. Both go through one transform
 * as real and imaginary part; with the parts exchanged it is its own inverse.
 */
function giveSound(
  transform: Transform,
  sums: Float32Array,
  from: number,
  memory: Float32Array,
  to: number,
  length: number,
): void {
  const { re, im, size } = transform;
  const bins = length + 1;
  for (let k = 0; k < bins; k++) {
    const leftRe = sums[from + k] as number;
    const leftIm = sums[from + bins + k] as number;
    const rightRe = sums[from + 2 * bins + k] as number;
    const rightIm = sums[from + 3 * bins + k] as number;
    im[k] = leftRe - rightIm;
    re[k] = leftIm + rightRe;
    if (k === 0 || k === length) continue;
    im[size - k] = leftRe + rightIm;
    re[size - k] = rightRe - leftIm;
  }
  transform.run();
  const { outRe, outIm } = transform;
  for (let i = 0; i < length; i++) {
    memory[to + i] = outIm[length + i] as number;
    memory[to + length + i] = outRe[length + i] as number;
  }
}
