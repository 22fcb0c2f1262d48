import { type Kernel, threadKernel } from '../kernel/kernel';
import { peakOf } from '../signal/audio';
import { kaiser } from '../signal/window';

/**
 * Oversampling by powers of two through half-band filters: every second tap is zero, and samples that exist are kept (P.
 * Vaidyanathan, T. Nguyen, "A trick for the design of FIR half-band filters", IEEE Trans. CAS 34, 1987; Kaiser window). All
 * up to 20 kHz at 44.1 kHz passes within 1e-7, and images lie under -140 dB.
 */
const STOP_DB = 140;
const BETA = 0.1102 * (STOP_DB - 8.7);
/** Edge of what passes, as a share of the sample rate before oversampling. */
const EDGE = 20 / 44.1;
/** Frames of silence put at either end, for what the filters ring. */
const MARGIN = 128;

const filters = new Map<number, Float64Array>();

/** The odd taps on one side of the half-band filter of stage `stage`, which works at 2^stage times the rate. */
function tapsOf(stage: number): Float64Array {
  const known = filters.get(stage);
  if (known) return known;
  const edge = EDGE / 2 ** stage;
  const length = (STOP_DB - 7.95) / (14.36 * (0.5 - 2 * edge));
  const count = Math.ceil(length / 4) + 1;
  const reach = 2 * count;
  const taps = Float64Array.from({ length: count }, (_, k) => {
    const n = 2 * k + 1;
    return ((k % 2 === 0 ? 1 : -1) * 2 * kaiser(n / reach, BETA)) / (Math.PI * n);
  });
  // Scaled so that a constant passes exactly.
  const sum = taps.reduce((s, x) => s + x, 0);
  const scaled = taps.map((x) => x / (2 * sum));
  filters.set(stage, scaled);
  return scaled;
}

/** Room in the kernel for `length` doubles, not cleared, with `margin` zeros before and after; gives where they begin. */
function roomFor(kernel: Kernel, length: number, margin: number): number {
  const at = kernel.run.reserve(8 * (length + 2 * margin));
  kernel.doubles(at, margin).fill(0);
  kernel.doubles(at + 8 * (margin + length), margin).fill(0);
  return at + 8 * margin;
}

/** Zeros around a row: more than any filter reads beyond its ends. */
const ZEROS = MARGIN + 8;

/** A channel at 2^stages times its rate in the kernel's memory, with `MARGIN` frames of it before the first and after the last. */
function raisedIn(
  kernel: Kernel,
  channel: Float32Array,
  stages: number,
): { readonly at: number; readonly length: number } {
  let length = 4 * Math.ceil((channel.length + 2 * MARGIN) / 4);
  let at = roomFor(kernel, length, ZEROS);
  const row = kernel.doubles(at, length);
  row.fill(0, 0, MARGIN);
  row.set(channel, MARGIN);
  row.fill(0, MARGIN + channel.length);
  for (let stage = 1; stage <= stages; stage++) {
    const taps = tapsOf(stage);
    const next = roomFor(kernel, 2 * length, ZEROS);
    kernel.run.doubleRate(at, length, kernel.lay(taps), taps.length, next);
    at = next;
    length *= 2;
  }
  return { at, length };
}

/** Applies `work` to a channel at 2^stages times its rate, in place, and gives the channel back at its own rate. */
export function oversampled(channel: Float32Array, stages: number, work: (x: Float64Array) => void): Float32Array {
  const kernel = threadKernel();
  return kernel.within(() => {
    let { at, length } = raisedIn(kernel, channel, stages);
    work(kernel.doubles(at, length));
    for (let stage = stages; stage >= 1; stage--) {
      const taps = tapsOf(stage);
      length /= 2;
      const odd = roomFor(kernel, length, ZEROS);
      const next = kernel.run.reserve(8 * length);
      kernel.run.halveRate(at, length, kernel.lay(taps), taps.length, odd, next);
      at = next;
    }
    return new Float32Array(kernel.doubles(at, length).subarray(MARGIN, MARGIN + channel.length));
  });
}

/** Eight values a frame show a peak within 0.05 dB up to a third of the sample rate (ITU-R BS.1770-5, annex 2). */
const PEAK_STAGES = 3;
const PEAK_FACTOR = 2 ** PEAK_STAGES;

/** Samples far under the peak cannot hide a higher one between them: such stretches are left out, this many frames each. */
const STRETCH = 1024;
const FAR_UNDER = 0.25;

/** A stretch at several times its rate, as doubles in the kernel's memory. */
interface Raised {
  readonly kernel: Kernel;
  readonly at: number;
  readonly length: number;
  /** The index of a frame of the channel. */
  readonly indexOf: (frame: number) => number;
}

/** Calls back for each stretch whose samples reach `least`, with it oversampled. */
function loudStretches(
  channel: Float32Array,
  least: number,
  visit: (x: Raised, first: number, end: number) => void,
): void {
  for (let first = 0; first < channel.length; first += STRETCH) {
    const end = Math.min(channel.length, first + STRETCH);
    let highest = 0;
    for (let i = first; i < end; i++) highest = Math.max(highest, Math.abs(channel[i] as number));
    if (highest === 0 || highest < least) continue;
    const from = Math.max(0, first - MARGIN);
    const kernel = threadKernel();
    kernel.within(() => {
      const { at, length } = raisedIn(
        kernel,
        channel.subarray(from, Math.min(channel.length, end + MARGIN)),
        PEAK_STAGES,
      );
      visit({ kernel, at, length, indexOf: (frame) => (frame - from + MARGIN) * PEAK_FACTOR }, first, end);
    });
  }
}

/**
 * For each frame the largest absolute value of the continuous signal within half a frame of it; 0 in stretches all of whose
 * samples lie 12 dB under `level`.
 */
export function truePeaks(channel: Float32Array, level = 0): Float32Array {
  const peaks = new Float32Array(channel.length);
  loudStretches(channel, FAR_UNDER * level, ({ kernel, at, indexOf }, first, end) => {
    const out = kernel.run.reserve(4 * (end - first));
    kernel.run.peaksAround(at + 8 * indexOf(first), end - first, PEAK_FACTOR, PEAK_FACTOR / 2, out);
    peaks.set(kernel.floats(out, end - first), first);
  });
  return peaks;
}

/** Largest absolute value of the continuous signal, linear (ITU-R BS.1770-5, annex 2); never under the largest sample. */
export function truePeakOf(channels: readonly Float32Array[]): number {
  let peak = peakOf(channels);
  const least = FAR_UNDER * peak;
  for (const channel of channels)
    loudStretches(channel, least, ({ kernel, at, length, indexOf }, first, end) => {
      // Before the first sample and after the last the signal rings; inside, a cut of ours must not.
      const start = first === 0 ? 0 : indexOf(first);
      const stop = end === channel.length ? length : indexOf(end);
      peak = Math.max(peak, kernel.run.peakOfDoubles(at + 8 * start, stop - start));
    });
  return peak;
}
