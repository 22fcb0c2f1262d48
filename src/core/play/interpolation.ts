import { Kernel } from '../kernel/kernel';
import { kaiser } from '../signal/window';
import { KIT_BUSES, KIT_PADS } from './limits';

/**
 * Band-limited interpolation by a windowed sinc whose cutoff falls when pitching up.
 * Sources: J. O. Smith, "Digital audio resampling home page" (CCRMA), after J. O. Smith & P. Gossett, ICASSP 1984;
 * J. F. Kaiser & R. W. Schafer, "On the use of the I0-sinh window", IEEE Trans. ASSP 28, 1980.
 *
 * With 14 zero crossings to a side and a stop band of 96 dB the transition spans 0.78 to 1.22 of the cutoff (Kaiser's
 * formula). The cutoff is the lower of the two Nyquist frequencies: flat to 17.2 kHz at 44.1 kHz, no image below 26.9 kHz,
 * and what folds when pitching up lands above 17.2 kHz. All tables are in single precision, so that they are the same in
 * every JavaScript engine; sums are taken in the kernel (`readBetween`), where four taps are weighed at a time.
 */
const CROSSINGS = 14;
const BETA = 9.62; // 0.1102 (96 - 8.7)
/** Prototype steps between zero crossings; reading between them in a line errs by less than -115 dB (pi^2 / 24 / steps^2). */
const STEPS = 512;
/** Positions between two frames that weights are stored for; likewise -103 dB. */
const PHASES = 256;
/** Banks stand a semitone apart, up to two octaves. Beyond, weights are read from the prototype one by one. */
const BANKS = 25;
/** Frames that are read at once. */
export const CHUNK = 128;
/** Buses that frames can be mixed to. */
export const MAX_BUSES = KIT_PADS + KIT_BUSES + 2;
export const BUS_FLOATS = 2 * CHUNK;

/** Doubles of a filter's state in the kernel: its integrators, then g and both k. */
export const STATE_DOUBLES = 11;
type Mix = readonly [input: number, band: number, low: number];
/** What the kinds of filter take of a state-variable filter's signals, by the index of `FILTER_NAMES`. */
const MIXES: readonly Mix[] = [
  [1, 0, 0],
  [0, 0, 1],
  [1, -1, -1],
  [0, 1, 0],
  [1, -1, 0],
];

const PROTOTYPE = ((): Float32Array => {
  const table = new Float32Array(CROSSINGS * STEPS + 2);
  for (let i = 0; i < CROSSINGS * STEPS; i++) {
    const u = i / STEPS;
    table[i] = (u === 0 ? 1 : Math.sin(Math.PI * u) / (Math.PI * u)) * kaiser(u / CROSSINGS, BETA);
  }
  return table;
})();

/** Stands for weights that are read from the prototype, whose cutoff follows the ratio. */
const WIDE: Bank = { cutoff: 0, taps: 0, rows: 0 };

/** The windowed sinc at `u` zero crossings from its middle. */
function prototype(u: number): number {
  const at = Math.abs(u) * STEPS;
  if (at >= CROSSINGS * STEPS) return 0;
  const i = Math.floor(at);
  return (PROTOTYPE[i] as number) + (at - i) * ((PROTOTYPE[i + 1] as number) - (PROTOTYPE[i] as number));
}

/**
 * The weights of one cutoff: a row of `taps` for each of the phases between two frames, and that of the next frame after
 * them, at `rows` in the kernel's memory. Tap k of a position weighs frame floor(position) - taps / 2 + 1 + k.
 */
export interface Bank {
  readonly cutoff: number;
  /** A multiple of four; 0 where weights are read from the prototype. */
  readonly taps: number;
  readonly rows: number;
}

function layBank(kernel: Kernel, cutoff: number): Bank {
  const taps = 4 * Math.ceil(CROSSINGS / cutoff / 2);
  const rows = new Float32Array((PHASES + 1) * taps);
  for (let phase = 0; phase <= PHASES; phase++) {
    for (let k = 0; k < taps; k++)
      rows[phase * taps + k] = cutoff * prototype(cutoff * (k - taps / 2 + 1 - phase / PHASES));
  }
  return { cutoff, taps, rows: kernel.lay(rows) };
}

/** Sample memory as it is read, and by pairs of floats as it is copied: half as many steps, and no float made a double and back. */
export interface Samples {
  readonly floats: Float32Array;
  readonly pairs: Float64Array;
}

/** Memory that begins on a multiple of eight bytes; throws a RangeError where it does not. */
export function samplesOf(floats: Float32Array): Samples {
  return { floats, pairs: new Float64Array(floats.buffer, floats.byteOffset, floats.length >> 1) };
}

/**
 * A sound being read. Offsets count floats of the memory, positions frames from the channel's first; frames outside
 * [start, end) are silence. A loop that ends after its start repeats for ever; its last `seam` frames fade into those
 * before its start. The ratio grows by `bend` a frame.
 */
export interface Reading {
  /** Equal for mono. */
  readonly left: number;
  readonly right: number;
  readonly start: number;
  readonly end: number;
  readonly reversed: boolean;
  readonly loopStart: number;
  readonly loopEnd: number;
  readonly seam: number;
  readonly position: number;
  readonly ratio: number;
  readonly bend: number;
  readonly bank: Bank;
}

/** Reads sound at any ratio, a chunk at a time. It keeps nothing of what it reads, so one serves all engines of a thread. */
export class Interpolation {
  /** The highest sample that was mixed last. */
  peak = 0;
  /** The frames last read, left and right by turns. */
  readonly frames: Float32Array;
  private readonly kernel = new Kernel();
  private readonly banks: readonly Bank[];
  // What lies around the frames that are read, in the kernel's memory.
  private readonly around: readonly [Samples, Samples];
  private readonly places: {
    readonly left: number;
    readonly right: number;
    readonly out: number;
    readonly state: number;
    readonly gains: number;
    readonly buses: number;
  };
  private readonly state: Float64Array;
  private readonly gains: Float64Array;
  /** A chunk of each bus, left and right by turns, one after another. */
  readonly buses: Float32Array;

  constructor() {
    const { kernel } = this;
    this.banks = Array.from({ length: BANKS }, (_, s) => layBank(kernel, 2 ** (-s / 12)));
    const { taps, cutoff } = this.banks.at(-1) as Bank;
    // Pairs of floats are copied whole, four at a time.
    const most = taps + Math.ceil((CHUNK + 1) / cutoff) + 12;
    const reserve = (floats: number) => kernel.run.reserve(4 * floats);
    const [left, right, out, state] = [reserve(most), reserve(most), reserve(2 * CHUNK), reserve(2 * STATE_DOUBLES)];
    const [gains, buses] = [reserve(4), reserve(MAX_BUSES * BUS_FLOATS)];
    this.places = { left, right, out, state, gains, buses };
    this.state = kernel.doubles(state, STATE_DOUBLES);
    this.gains = kernel.doubles(gains, 2);
    this.buses = kernel.floats(buses, MAX_BUSES * BUS_FLOATS);
    this.around = [samplesOf(kernel.floats(left, most)), samplesOf(kernel.floats(right, most))];
    this.frames = kernel.floats(out, 2 * CHUNK);
  }

  /**
   * The bank for reading `ratios[at]` source frames a frame: the highest cutoff that does not pass the new Nyquist frequency.
   * (A number passed by itself may be allocated.)
   */
  bankFor(ratios: Float64Array, at: number): Bank {
    const semitones = Math.max(0, Math.ceil(12 * Math.log2(ratios[at] as number) - 1e-6));
    return this.banks[semitones] ?? WIDE;
  }

  /** Source frames around a position that reading by a bank at a ratio may touch, to either side. */
  reach({ taps }: Bank, ratio: number): number {
    return (taps > 0 ? taps / 2 : Math.ceil(CROSSINGS * ratio)) + 4;
  }

  /** Reads the next `count` frames of a sound, at most a chunk, into `frames`. */
  read(memory: Samples, of: Reading, count: number): void {
    const { left: leftAt, right: rightAt, start, end, position, ratio, bend } = of;
    const { taps, rows } = of.bank;
    const last = position + count * ratio + (bend * count * (count - 1)) / 2;
    const isPlain =
      !of.reversed && (of.loopEnd <= of.loopStart || last + this.reach(of.bank, ratio) < of.loopEnd - of.seam);
    if (ratio === 1 && bend === 0 && Number.isInteger(position)) {
      if (isPlain) this.take(memory.floats, leftAt + position, rightAt + position, count);
      else this.takeEach(memory.floats, of, count);
      return;
    }
    if (taps === 0) {
      this.readWide(memory.floats, of, count);
      return;
    }
    const first = Math.floor(position) - taps / 2 + 1;
    // The kernel reads two frames at a time.
    const length = Math.floor(last + Math.abs(ratio) + Math.abs(bend) * count) + taps / 2 - first + 1;
    const { around, places } = this;
    const [aroundLeft, aroundRight] = around;
    const isMono = leftAt === rightAt;
    let left = places.left;
    let right = places.right;
    if (isPlain) {
      left += 4 * copy(memory, leftAt, start, end, first, length, aroundLeft);
      if (!isMono) right += 4 * copy(memory, rightAt, start, end, first, length, aroundRight);
    } else {
      for (let i = 0; i < length; i++) {
        aroundLeft.floats[i] = frameAt(memory.floats, leftAt, of, first + i);
        if (!isMono) aroundRight.floats[i] = frameAt(memory.floats, rightAt, of, first + i);
      }
    }
    const { run } = this.kernel;
    if (isMono) run.readBetweenMono(left, first, position, ratio, bend, count, rows, taps, PHASES, places.out);
    else run.readBetween(left, right, first, position, ratio, bend, count, rows, taps, PHASES, places.out);
  }

  /**
   * Filters the frames last read in place; see `stateVariable` of the kernel. `state` has the filter's integrators, g and
   * both k, and is changed; g and both k grow a frame by the values of `by` from index `first` on.
   */
  filter(state: Float64Array, by: Float64Array, first: number, count: number, kind: number, sections: number): void {
    const { state: held } = this;
    for (let i = 0; i < STATE_DOUBLES; i++) held[i] = state[i] as number;
    const mix = MIXES[kind] as Mix;
    this.kernel.run.stateVariable(
      this.places.out,
      count,
      this.places.state,
      by[first] as number,
      by[first + 1] as number,
      by[first + 2] as number,
      mix[0],
      mix[1],
      mix[2],
      sections,
    );
    for (let i = 0; i < STATE_DOUBLES; i++) state[i] = held[i] as number;
  }

  /**
   * Adds the first `count` of the frames last read to a bus from its frame `at` on, and sets `peak`. The gains of both sides
   * stand in `gains` from index `first` on; they grow a frame by the values of `by` there, and are changed.
   */
  mix(gains: Float64Array, by: Float64Array, first: number, count: number, bus: number, at: number): void {
    const { places, gains: held } = this;
    held[0] = gains[first] as number;
    held[1] = gains[first + 1] as number;
    const to = places.buses + 4 * (bus * BUS_FLOATS + 2 * at);
    this.peak = this.kernel.run.mixFrames(
      places.out,
      count,
      to,
      places.gains,
      by[first] as number,
      by[first + 1] as number,
    );
    gains[first] = held[0] as number;
    gains[first + 1] = held[1] as number;
  }

  /** The very samples, where there is nothing between them to be read; what lies past a voice's end is not for it to play. */
  private take(floats: Float32Array, left: number, right: number, count: number): void {
    for (let n = 0; n < count; n++) {
      this.frames[2 * n] = floats[left + n] as number;
      this.frames[2 * n + 1] = floats[right + n] as number;
    }
  }

  private takeEach(floats: Float32Array, of: Reading, count: number): void {
    for (let n = 0; n < count; n++) {
      this.frames[2 * n] = frameAt(floats, of.left, of, of.position + n);
      this.frames[2 * n + 1] = frameAt(floats, of.right, of, of.position + n);
    }
  }

  /** The same with weights read from the prototype: for ratios past the banks, where few voices ever are. */
  private readWide(memory: Float32Array, of: Reading, count: number): void {
    let { position, ratio } = of;
    for (let n = 0; n < count; n++) {
      const cutoff = Math.min(1, 1 / ratio);
      const reach = CROSSINGS / cutoff;
      const first = Math.ceil(position - reach);
      const end = Math.floor(position + reach) + 1;
      let sumLeft = 0;
      let sumRight = 0;
      for (let frame = first; frame < end; frame++) {
        const weight = cutoff * prototype(cutoff * (frame - position));
        sumLeft += weight * frameAt(memory, of.left, of, frame);
        sumRight += weight * frameAt(memory, of.right, of, frame);
      }
      this.frames[2 * n] = sumLeft;
      this.frames[2 * n + 1] = sumRight;
      position += ratio;
      ratio += of.bend;
    }
  }
}

/** A frame of a channel as it is played: repeated in a loop with its seam, backwards where it is reversed. */
function frameAt(memory: Float32Array, at: number, of: Reading, frame: number): number {
  const { loopStart, loopEnd, seam } = of;
  const length = loopEnd - loopStart;
  if (length <= 0) return plainFrame(memory, at, of, frame);
  const inside = frame < loopEnd ? frame : loopStart + ((frame - loopStart) % length);
  const into = inside - (loopEnd - seam) + 1;
  const value = plainFrame(memory, at, of, inside);
  if (into <= 0) return value;
  const share = into / (seam + 1);
  return (1 - share) * value + share * plainFrame(memory, at, of, inside - length);
}

function plainFrame(memory: Float32Array, at: number, { start, end, reversed }: Reading, frame: number): number {
  if (frame < start || frame >= end) return 0;
  return memory[at + (reversed ? start + end - 1 - frame : frame)] as number;
}

/**
 * Copies frames [first, first + length) of a channel that begins at `at`; those outside [low, high) are silence. Gives at which
 * float they begin: 0 or 1, as in the pair they come from. (A view of each stretch to be copied would be garbage.)
 */
function copy(
  memory: Samples,
  at: number,
  low: number,
  high: number,
  first: number,
  length: number,
  into: Samples,
): number {
  const { pairs } = memory;
  const { floats } = into;
  const begin = Math.min(length, Math.max(0, low - first));
  const end = Math.max(begin, Math.min(length, high - first));
  // Offsets in memory fit 32 bits; saying so keeps the loops in integers.
  const odd = (at + first) & 1;
  const from = (at + first - odd) >> 1;
  const lastPair = Math.min((odd + end + 1) >> 1, pairs.length - from);
  let k = (odd + begin) >> 1;
  for (; k + 4 <= lastPair; k += 4) {
    into.pairs[k] = pairs[from + k] as number;
    into.pairs[k + 1] = pairs[from + k + 1] as number;
    into.pairs[k + 2] = pairs[from + k + 2] as number;
    into.pairs[k + 3] = pairs[from + k + 3] as number;
  }
  for (; k < lastPair; k++) into.pairs[k] = pairs[from + k] as number;
  // The last float of a memory of odd length is in no pair.
  for (let f = Math.max(begin, 2 * lastPair - odd); f < end; f++)
    floats[odd + f] = memory.floats[at + first + f] as number;
  for (let f = 0; f < begin; f++) floats[odd + f] = 0;
  for (let f = end; f < length; f++) floats[odd + f] = 0;
  return odd;
}

let interpolation: Interpolation | null = null;

/** The thread's interpolation, made on first use. */
export function threadInterpolation(): Interpolation {
  interpolation ??= new Interpolation();
  return interpolation;
}
