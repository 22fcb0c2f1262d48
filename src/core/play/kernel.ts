import { kaiser } from '../signal/window';

/**
 * Band-limited interpolation by a windowed sinc whose cutoff falls when pitching up.
 * Sources: J. O. Smith, "Digital audio resampling home page" (CCRMA), after J. O. Smith & P. Gossett, ICASSP 1984;
 * J. F. Kaiser & R. W. Schafer, "On the use of the I0-sinh window", IEEE Trans. ASSP 28, 1980.
 *
 * With 14 zero crossings to a side and a stop band of 96 dB the transition spans 0.78 to 1.22 of the cutoff (Kaiser's
 * formula). The cutoff is the lower of the two Nyquist frequencies: flat to 17.2 kHz at 44.1 kHz, no image below 26.9 kHz,
 * and what folds when pitching up lands above 17.2 kHz. All tables are in single precision, so that they are the same in
 * every JavaScript engine.
 */
const CROSSINGS = 14;
const BETA = 9.62; // 0.1102 (96 - 8.7)
/** Prototype steps between zero crossings; reading between them in a line errs by less than -115 dB (pi^2 / 24 / steps^2). */
const STEPS = 512;
/** Positions between two frames that weights are stored for; likewise -103 dB. */
const PHASES = 256;
/** Banks stand a semitone apart, up to two octaves. Beyond, weights are read from the prototype one by one. */
const BANKS = 25;

const PROTOTYPE = ((): Float32Array => {
  const table = new Float32Array(CROSSINGS * STEPS + 2);
  for (let i = 0; i < CROSSINGS * STEPS; i++) {
    const u = i / STEPS;
    table[i] = (u === 0 ? 1 : Math.sin(Math.PI * u) / (Math.PI * u)) * kaiser(u / CROSSINGS, BETA);
  }
  return table;
})();

/** The windowed sinc at `u` zero crossings from its middle. */
function prototype(u: number): number {
  const at = Math.abs(u) * STEPS;
  if (at >= CROSSINGS * STEPS) return 0;
  const i = Math.floor(at);
  return (PROTOTYPE[i] as number) + (at - i) * ((PROTOTYPE[i + 1] as number) - (PROTOTYPE[i] as number));
}

/**
 * The weights of one cutoff, `taps` in a row for each of the phases between two frames, and how each changes to the next
 * phase. Tap k of a position weighs frame floor(position) - taps / 2 + 1 + k.
 */
export interface KernelBank {
  readonly cutoff: number;
  readonly taps: number;
  readonly weights: Float32Array;
  readonly slopes: Float32Array;
}

function makeBank(cutoff: number): KernelBank {
  const reach = Math.ceil(CROSSINGS / cutoff);
  const taps = 2 * reach;
  const weights = new Float32Array(PHASES * taps);
  const slopes = new Float32Array(PHASES * taps);
  const weight = (phase: number, k: number) => cutoff * prototype(cutoff * (k - reach + 1 - phase / PHASES));
  for (let phase = 0; phase < PHASES; phase++) {
    for (let k = 0; k < taps; k++) {
      const i = phase * taps + k;
      weights[i] = weight(phase, k);
      slopes[i] = weight(phase + 1, k) - (weights[i] as number);
    }
  }
  return { cutoff, taps, weights, slopes };
}

const BANK_OF_SEMITONE: readonly KernelBank[] = Array.from({ length: BANKS }, (_, s) => makeBank(2 ** (-s / 12)));
const NONE = { taps: 0, weights: new Float32Array(0), slopes: new Float32Array(0) };

/** The bank for reading `ratio` source frames a frame: the highest cutoff that does not pass the new Nyquist frequency. */
export function kernelBank(ratio: number): KernelBank {
  const semitones = Math.max(0, Math.ceil(12 * Math.log2(ratio) - 1e-6));
  return BANK_OF_SEMITONE[semitones] ?? { ...NONE, cutoff: 1 / ratio };
}

/**
 * Interpolates two channels of `memory` at `position` frames and writes left and right to `out[0]`, `out[1]`. The
 * channels begin at `left` and `right` (equal for mono); frames outside [low, high) count as silence.
 */
export function interpolatePair(
  memory: Float32Array,
  left: number,
  right: number,
  low: number,
  high: number,
  position: number,
  bank: KernelBank,
  out: Float64Array,
): void {
  const { taps, weights, slopes } = bank;
  if (taps === 0) {
    interpolateWide(memory, left, right, low, high, position, bank.cutoff, out);
    return;
  }
  const whole = Math.floor(position);
  const exact = (position - whole) * PHASES;
  const phase = exact | 0;
  const between = exact - phase;
  // Offsets in memory fit 32 bits; saying so keeps the inner loop in integers, which is several times faster.
  const first = (whole - (taps >> 1) + 1) | 0;
  const from = (first < low ? low - first : 0) | 0;
  const to = (first + taps > high ? high - first : taps) | 0;
  const row = (phase * taps) | 0;
  const leftAt = (left + first) | 0;
  const rightAt = (right + first) | 0;
  // Two taps a turn with sums of their own, so that no addition waits for the one before it.
  let sumLeft = 0;
  let sumRight = 0;
  let oddLeft = 0;
  let oddRight = 0;
  let k = from;
  if (leftAt === rightAt) {
    for (; k + 1 < to; k += 2) {
      const weight = (weights[row + k] as number) + between * (slopes[row + k] as number);
      const odd = (weights[row + k + 1] as number) + between * (slopes[row + k + 1] as number);
      sumLeft += weight * (memory[leftAt + k] as number);
      oddLeft += odd * (memory[leftAt + k + 1] as number);
    }
    if (k < to)
      sumLeft +=
        ((weights[row + k] as number) + between * (slopes[row + k] as number)) * (memory[leftAt + k] as number);
    out[0] = sumLeft + oddLeft;
    out[1] = out[0];
    return;
  }
  for (; k + 1 < to; k += 2) {
    const weight = (weights[row + k] as number) + between * (slopes[row + k] as number);
    const odd = (weights[row + k + 1] as number) + between * (slopes[row + k + 1] as number);
    sumLeft += weight * (memory[leftAt + k] as number);
    sumRight += weight * (memory[rightAt + k] as number);
    oddLeft += odd * (memory[leftAt + k + 1] as number);
    oddRight += odd * (memory[rightAt + k + 1] as number);
  }
  if (k < to) {
    const weight = (weights[row + k] as number) + between * (slopes[row + k] as number);
    sumLeft += weight * (memory[leftAt + k] as number);
    sumRight += weight * (memory[rightAt + k] as number);
  }
  out[0] = sumLeft + oddLeft;
  out[1] = sumRight + oddRight;
}

/** The same with weights read from the prototype: for ratios past the banks, where few voices ever are. */
function interpolateWide(
  memory: Float32Array,
  left: number,
  right: number,
  low: number,
  high: number,
  position: number,
  cutoff: number,
  out: Float64Array,
): void {
  const reach = CROSSINGS / cutoff;
  const from = Math.max(low, Math.ceil(position - reach));
  const to = Math.min(high, Math.floor(position + reach) + 1);
  let sumLeft = 0;
  let sumRight = 0;
  for (let n = from; n < to; n++) {
    const weight = cutoff * prototype(cutoff * (n - position));
    sumLeft += weight * (memory[left + n] as number);
    sumRight += weight * (memory[right + n] as number);
  }
  out[0] = sumLeft;
  out[1] = sumRight;
}
