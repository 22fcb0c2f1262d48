import { Fft } from '../kernel/fft';
import { BLOCK } from './limits';

/** Frames of the long parts of a response; the short ones are a block long, and last until the long ones can. */
export const LONG = 8 * BLOCK;
/** Frames of a response that the short parts hold: the long ones are ready two of their lengths after the sound. */
const SHORT_UNTIL = 2 * LONG;
export const SHORT_PARTS = SHORT_UNTIL / BLOCK - 1;
/** Floats of a spectrum: real parts of the bins from 0 to half the rate, then imaginary parts. */
export const SHORT_BINS = BLOCK + 1;
export const LONG_BINS = LONG + 1;

/**
 * Where a room lies in sample memory, in floats from its beginning. The response: its first block as it is, left then
 * right, then the spectra of its parts, for each part left then right. What the engine works in: past input, spectra of
 * past blocks, sums, and what is about to sound.
 */
export interface RoomLayout {
  readonly longParts: number;
  readonly short: number;
  readonly long: number;
  readonly history: number;
  readonly longHistory: number;
  readonly shortPast: number;
  readonly longPast: number;
  readonly sums: number;
  readonly shortOut: number;
  readonly longOut: number;
  readonly floats: number;
}

/** The layout of a room whose response has so many frames. */
export function roomLayout(frames: number): RoomLayout {
  const longParts = Math.max(0, Math.ceil((frames - SHORT_UNTIL) / LONG));
  let at = 0;
  const place = (floats: number) => {
    const here = at;
    at += floats;
    return here;
  };
  place(2 * BLOCK);
  return {
    longParts,
    short: place(SHORT_PARTS * 4 * SHORT_BINS),
    long: place(longParts * 4 * LONG_BINS),
    history: place(2 * BLOCK),
    longHistory: place(2 * LONG),
    shortPast: place(SHORT_PARTS * 2 * SHORT_BINS),
    longPast: place((longParts + 1) * 2 * LONG_BINS),
    sums: place(4 * LONG_BINS),
    shortOut: place(2 * BLOCK),
    // One is heard while the next is made.
    longOut: place(2 * LONG),
    get floats() {
      return at;
    },
  };
}

/** Lays a response, left and right, into memory from float `at` on, ready to be convolved by `Resounding`. */
export function layRoom(sides: readonly [Float32Array, Float32Array], memory: Float32Array, at: number): void {
  const layout = roomLayout(sides[0].length);
  memory.fill(0, at, at + layout.floats);
  for (const [side, h] of sides.entries()) {
    memory.set(h.subarray(0, BLOCK), at + side * BLOCK);
    laySpectra(h, BLOCK, BLOCK, SHORT_PARTS, memory, at + layout.short, side);
    laySpectra(h, SHORT_UNTIL, LONG, layout.longParts, memory, at + layout.long, side);
  }
}

/** Spectra of parts of `length` frames from frame `first` on, each followed by as much silence, scaled for the way back. */
function laySpectra(
  h: Float32Array,
  first: number,
  length: number,
  parts: number,
  memory: Float32Array,
  at: number,
  side: number,
): void {
  const size = 2 * length;
  const bins = length + 1;
  const fft = new Fft(size);
  const frame = new Float32Array(size);
  for (let part = 0; part < parts; part++) {
    frame.fill(0);
    const from = first + part * length;
    if (from < h.length) frame.set(h.subarray(from, Math.min(h.length, from + length)));
    const { re, im } = fft.forward(frame);
    const to = at + (2 * part + side) * 2 * bins;
    for (let k = 0; k < bins; k++) {
      memory[to + k] = (re[k] as number) / size;
      memory[to + bins + k] = (im[k] as number) / size;
    }
  }
}
