import { kaiser } from '../signal/window';

/** Zero crossings to each side; with the shape below the stop band lies under -100 dB. */
const CROSSINGS = 18;
/** Kaiser shape for about 100 dB (Kaiser & Schafer 1980: beta = 0.1102 (A - 8.7)). */
const BETA = 10.06;
/** Table steps between zero crossings; linear interpolation then errs by less than -115 dB (pi^2 / 24 / steps^2). */
const STEPS = 512;
/** Cutoff as a share of the lower of the two Nyquist frequencies: flat to 0.75 of it, so to 16.6 kHz at 44.1 kHz. */
const CUTOFF = 0.92;

/**
 * Band-limited interpolation by a windowed sinc whose cutoff falls when pitching up.
 * Source: J. O. Smith, "Digital audio resampling home page" (CCRMA), after J. O. Smith & P. Gossett, ICASSP 1984.
 * The table is stored in single precision, so that it is the same in every JavaScript engine.
 */
const TABLE = ((): Float32Array => {
  const table = new Float32Array(CROSSINGS * STEPS + 2);
  for (let i = 0; i < CROSSINGS * STEPS; i++) {
    const u = i / STEPS;
    table[i] = (u === 0 ? 1 : Math.sin(Math.PI * u) / (Math.PI * u)) * kaiser(u / CROSSINGS, BETA);
  }
  return table;
})();

/** Share of the source's Nyquist frequency that is kept when it is read `ratio` times as fast. */
export function kernelCutoff(ratio: number): number {
  return ratio > 1 ? CUTOFF / ratio : CUTOFF;
}

/** Frames to each side of a position that are read at this cutoff. */
export function kernelReach(cutoff: number): number {
  return Math.ceil(CROSSINGS / cutoff);
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
  cutoff: number,
  out: Float64Array,
): void {
  const whole = Math.floor(position);
  const step = cutoff * STEPS;
  let sumLeft = 0;
  let sumRight = 0;
  // Wing to the left of the position, its own frame included.
  let at = (position - whole) * step;
  let n = whole;
  if (n >= high) {
    at += (n - high + 1) * step;
    n = high - 1;
  }
  const end = CROSSINGS * STEPS;
  const mono = left === right;
  for (; at < end && n >= low; at += step, n--) {
    const i = at | 0;
    const t0 = TABLE[i] as number;
    const weight = t0 + (at - i) * ((TABLE[i + 1] as number) - t0);
    sumLeft += weight * (memory[left + n] as number);
    if (!mono) sumRight += weight * (memory[right + n] as number);
  }
  at = (whole + 1 - position) * step;
  n = whole + 1;
  if (n < low) {
    at += (low - n) * step;
    n = low;
  }
  for (; at < end && n < high; at += step, n++) {
    const i = at | 0;
    const t0 = TABLE[i] as number;
    const weight = t0 + (at - i) * ((TABLE[i + 1] as number) - t0);
    sumLeft += weight * (memory[left + n] as number);
    if (!mono) sumRight += weight * (memory[right + n] as number);
  }
  out[0] = sumLeft * cutoff;
  out[1] = (mono ? sumLeft : sumRight) * cutoff;
}
