import { Kernel } from '../kernel/kernel';
import { kaiser } from '../signal/window';

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

/** Reads sound at any ratio, a chunk at a time. It keeps nothing of what it reads, so one serves all engines of a thread. */
export class Interpolation {
  /** The frames last read, left and right by turns. */
  readonly frames: Float32Array;
  private readonly kernel = new Kernel();
  private readonly banks: readonly Bank[];
  // What lies around the frames that are read, in the kernel's memory.
  private readonly around: readonly [Samples, Samples];
  private readonly places: { readonly left: number; readonly right: number; readonly out: number };

  constructor() {
    const { kernel } = this;
    this.banks = Array.from({ length: BANKS }, (_, s) => layBank(kernel, 2 ** (-s / 12)));
    const { taps, cutoff } = this.banks.at(-1) as Bank;
    // Pairs of floats are copied whole, four at a time.
    const most = taps + Math.ceil((CHUNK + 1) / cutoff) + 12;
    const [left, right, out] = [most, most, 2 * CHUNK].map((floats) => kernel.run.reserve(4 * floats)) as [
      number,
      number,
      number,
    ];
    this.places = { left, right, out };
    this.around = [samplesOf(kernel.floats(left, most)), samplesOf(kernel.floats(right, most))];
    this.frames = kernel.floats(out, 2 * CHUNK);
  }

  /** The bank for reading `ratio` source frames a frame: the highest cutoff that does not pass the new Nyquist frequency. */
  bankFor(ratio: number): Bank {
    const semitones = Math.max(0, Math.ceil(12 * Math.log2(ratio) - 1e-6));
    return this.banks[semitones] ?? WIDE;
  }

  /** Source frames around a position that reading by a bank at a ratio may touch, to either side. */
  reach({ taps }: Bank, ratio: number): number {
    return (taps > 0 ? taps / 2 : Math.ceil(CROSSINGS * ratio)) + 4;
  }

  /**
   * Reads `count` frames, at most a chunk, `ratio` source frames apart from `position` on, of two channels of `memory` into
   * `frames`. The channels begin at `leftAt` and `rightAt` (equal for mono); frames outside [low, high) count as
   * silence.
   */
  read(
    memory: Samples,
    leftAt: number,
    rightAt: number,
    low: number,
    high: number,
    position: number,
    ratio: number,
    bank: Bank,
    count: number,
  ): void {
    const { taps, rows } = bank;
    if (ratio === 1) {
      this.take(memory.floats, leftAt + position, rightAt + position, count);
      return;
    }
    if (taps === 0) {
      this.readWide(memory.floats, leftAt, rightAt, low, high, position, ratio, 1 / ratio, count);
      return;
    }
    const first = Math.floor(position) - taps / 2 + 1;
    // The kernel reads two frames at a time.
    const length = Math.floor(position + (count + 1) * ratio) + taps / 2 - first + 1;
    const mono = leftAt === rightAt;
    const { around, places } = this;
    const left = places.left + 4 * copy(memory, leftAt, low, high, first, length, around[0]);
    const right = mono ? left : places.right + 4 * copy(memory, rightAt, low, high, first, length, around[1]);
    this.kernel.run.readBetween(left, right, first, position, ratio, count, rows, taps, PHASES, places.out);
  }

  /** The very samples, where there is nothing between them to be read; what lies past a voice's end is not for it to play. */
  private take(floats: Float32Array, left: number, right: number, count: number): void {
    for (let n = 0; n < count; n++) {
      this.frames[2 * n] = floats[left + n] as number;
      this.frames[2 * n + 1] = floats[right + n] as number;
    }
  }

  /** The same with weights read from the prototype: for ratios past the banks, where few voices ever are. */
  private readWide(
    memory: Float32Array,
    leftAt: number,
    rightAt: number,
    low: number,
    high: number,
    from: number,
    ratio: number,
    cutoff: number,
    count: number,
  ): void {
    const reach = CROSSINGS / cutoff;
    let position = from;
    for (let n = 0; n < count; n++) {
      const first = Math.max(low, Math.ceil(position - reach));
      const end = Math.min(high, Math.floor(position + reach) + 1);
      let sumLeft = 0;
      let sumRight = 0;
      for (let frame = first; frame < end; frame++) {
        const weight = cutoff * prototype(cutoff * (frame - position));
        sumLeft += weight * (memory[leftAt + frame] as number);
        sumRight += weight * (memory[rightAt + frame] as number);
      }
      this.frames[2 * n] = sumLeft;
      this.frames[2 * n + 1] = sumRight;
      position += ratio;
    }
  }
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
