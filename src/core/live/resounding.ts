import { STEP } from './figures';
import { BLOCK } from './limits';
import { LONG, LONG_BINS, type RoomLayout, roomLayout, SHORT_BINS, SHORT_PARTS } from './room-size';
import { Transform } from './transform';

const BLOCKS_A_LONG = LONG / BLOCK;
/** Room for the sums of a block's spectra. */
const shortSums = new Float32Array(4 * SHORT_BINS);

let short: Transform | null = null;
let long: Transform | null = null;

/** Makes what all rooms of a thread share, before the first sounds. */
export function readyRooms(): void {
  short ??= new Transform(2 * BLOCK);
  long ??= new Transform(2 * LONG);
}

/**
 * A running sound through the response of a room, without delay: its first block by its samples, the rest in parts by
 * transforms, short ones of a block each and then long ones, whose work is spread over the blocks between (W. Gardner,
 * "Efficient convolution without input-output delay", J. Audio Eng. Soc. 43, 1995). Blocks end where the engine's clock is
 * a multiple of their length.
 */
export class Resounding {
  private layout: RoomLayout = roomLayout(0);
  private at = 0;
  /** Spectra of past blocks that there are, and the place of the latest. */
  private shortKnown = 0;
  private shortLatest = 0;
  private longKnown = 0;
  private longLatest = 0;
  /** The layout of a response of the frames given last. */
  private frames = -1;

  /** Begins in silence with the response at float `at` of memory, which has so many frames. */
  reset(memory: Float32Array, at: number, frames: number): void {
    readyRooms();
    if (frames !== this.frames) this.layout = roomLayout(frames);
    this.frames = frames;
    this.at = at;
    this.quiet(memory);
  }

  /** Forgets what came in. */
  quiet(memory: Float32Array): void {
    const { layout, at } = this;
    this.shortKnown = 0;
    this.longKnown = 0;
    memory.fill(0, at + layout.history, at + layout.shortPast);
    memory.fill(0, at + layout.sums, at + layout.floats);
  }

  /** Frames after which nothing is heard of a sound. */
  get tail(): number {
    return this.frames + 2 * LONG;
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
    const history = at + layout.history + BLOCK;
    const inBlock = clock % BLOCK;
    const inLong = clock % LONG;
    const longHistory = at + layout.longHistory + LONG + inLong;
    const shortOut = at + layout.shortOut + inBlock;
    const longOut = at + layout.longOut + inLong;
    for (let i = 0; i < count; i++) {
      const l = left[from + i] as number;
      const r = right[from + i] as number;
      const heard = (l + r) / 2;
      const here = history + inBlock + i;
      memory[here] = heard;
      memory[longHistory + i] = heard;
      let wetLeft = (memory[shortOut + i] as number) + (memory[longOut + i] as number);
      let wetRight = (memory[shortOut + BLOCK + i] as number) + (memory[longOut + LONG + i] as number);
      for (let k = 0; k < BLOCK; k++) {
        const x = memory[here - k] as number;
        wetLeft += x * (memory[at + k] as number);
        wetRight += x * (memory[at + BLOCK + k] as number);
      }
      left[from + i] = (1 - mix) * l + mix * wetLeft;
      right[from + i] = (1 - mix) * r + mix * wetRight;
    }
    if (inBlock + count === BLOCK) this.endBlock(memory, Math.floor(clock / BLOCK) % BLOCKS_A_LONG);
  }

  private endBlock(memory: Float32Array, block: number): void {
    const { layout, at } = this;
    const transform = short as Transform;
    this.shortLatest = (this.shortLatest + 1) % SHORT_PARTS;
    if (this.shortKnown < SHORT_PARTS) this.shortKnown++;
    takeSpectrum(transform, memory, at + layout.history, at + layout.shortPast + this.shortLatest * 2 * SHORT_BINS);
    memory.copyWithin(at + layout.history, at + layout.history + BLOCK, at + layout.history + 2 * BLOCK);
    shortSums.fill(0);
    for (let part = 0; part < this.shortKnown; part++) {
      const past = (this.shortLatest - part + SHORT_PARTS) % SHORT_PARTS;
      const response = at + layout.short + part * 4 * SHORT_BINS;
      addProduct(memory, at + layout.shortPast + past * 2 * SHORT_BINS, response, shortSums, 0, SHORT_BINS);
    }
    giveSound(transform, shortSums, 0, memory, at + layout.shortOut, BLOCK);
    if (layout.longParts > 0) this.workAhead(memory, block);
  }

  /** A share of the work on the long parts: a block of theirs ends with the last of its short ones. */
  private workAhead(memory: Float32Array, block: number): void {
    const { layout, at } = this;
    const { longParts } = layout;
    const places = longParts + 1;
    // The sums for the long block after the next of the latest that is known.
    const first = Math.floor((longParts * block) / BLOCKS_A_LONG);
    const end = Math.min(this.longKnown, Math.floor((longParts * (block + 1)) / BLOCKS_A_LONG));
    for (let part = first; part < end; part++) {
      const past = (this.longLatest - part + places) % places;
      const response = at + layout.long + part * 4 * LONG_BINS;
      addProduct(memory, at + layout.longPast + past * 2 * LONG_BINS, response, memory, at + layout.sums, LONG_BINS);
    }
    if (block < BLOCKS_A_LONG - 1) return;
    const transform = long as Transform;
    giveSound(transform, memory, at + layout.sums, memory, at + layout.longOut, LONG);
    memory.fill(0, at + layout.sums, at + layout.sums + 4 * LONG_BINS);
    this.longLatest = (this.longLatest + 1) % places;
    if (this.longKnown < longParts) this.longKnown++;
    const history = at + layout.longHistory;
    takeSpectrum(transform, memory, history, at + layout.longPast + this.longLatest * 2 * LONG_BINS);
    memory.copyWithin(history, history + LONG, history + 2 * LONG);
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
