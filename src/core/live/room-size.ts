import { BLOCK } from './limits';

/**
 * Lengths of the parts in which a response is convolved, in frames. Those of a block are worked on where a block ends, for
 * the next; longer ones all through a block of their length, for the one after the next.
 */
export const LENGTHS = [BLOCK, 8 * BLOCK, 64 * BLOCK] as const;

/** Parts of one length: how many, and where they lie, in floats from the beginning of the room. */
export interface RoomParts {
  readonly length: number;
  /** Frame of the response at which the first part begins. */
  readonly first: number;
  readonly count: number;
  /** Spectra of the response, for each part left then right. */
  readonly response: number;
  /** What the engine works in: past input, spectra of past blocks, sums, and what is about to sound. */
  readonly history: number;
  readonly past: number;
  readonly sums: number;
  readonly out: number;
}

/**
 * Where a room lies in sample memory: its first block, left then right, the other way round, then its parts. A spectrum has the real
 * parts of the bins from 0 to half the rate, then the imaginary ones.
 */
export interface RoomLayout {
  readonly parts: readonly RoomParts[];
  readonly floats: number;
}

/** The layout of a room whose response has so many frames. */
export function roomLayout(frames: number): RoomLayout {
  let at = 2 * BLOCK;
  const place = (floats: number) => {
    at += floats;
    return at - floats;
  };
  const parts = LENGTHS.map((length, i) => {
    const first = i === 0 ? BLOCK : 2 * length;
    const next = LENGTHS[i + 1];
    const until = next === undefined ? frames : 2 * next;
    // The shortest are always there, as is their past input, which the first block is convolved with.
    const count = i === 0 ? until / length - 1 : Math.max(0, Math.ceil((Math.min(frames, until) - first) / length));
    const spectrum = 2 * (length + 1);
    const isUsed = count > 0 ? 1 : 0;
    return {
      length,
      first,
      count,
      response: place(count * 2 * spectrum),
      history: place(isUsed * 2 * length),
      past: place((count + isUsed) * spectrum),
      sums: place(isUsed * 2 * spectrum),
      out: place(isUsed * 2 * length),
    };
  });
  return { parts, floats: at };
}
