import { BLOCK } from './limits';

/** Frames of the long parts of a response; the short ones are a block long, and last until the long ones can. */
export const LONG = 8 * BLOCK;
/** Frames of a response that the short parts hold: the long ones are ready two of their lengths after the sound. */
export const SHORT_UNTIL = 2 * LONG;
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
