import { PROGRAMS } from '../core/play/limits';
import { PROGRAM_FLOATS } from '../core/play/program';
import { SCORE_FLOATS } from '../core/play/score';

/**
 * Shared memory between page and audio thread. Events pass through one ring of fixed-size records, written by the page
 * alone and read by the audio thread alone (a single-producer, single-consumer queue; L. Lamport, "Specifying
 * concurrent program modules", 1983). Larger data - a pad's program, a score - is in one of two banks; a version number
 * selects the bank, and a record announces a change. Types and constants only.
 */
export const RECORD_FLOATS = 7;
export const RING_RECORDS = 4096;

/** First float of a record. Its other fields are listed with each kind. */
export const Kind = {
  /** pad, velocity, engine frame (-1 for at once), serial number, first and last frame to play (-1 for all) */
  strike: 1,
  /** pad, engine frame */
  release: 2,
  /** pad or -1, engine frame */
  stop: 3,
  /** pad, or a bus by its place among the programs: its program has changed */
  program: 4,
  /** the score has changed */
  score: 5,
  /** engine frame at which the score begins, below 0 for one before the engine began; one of `Playing` */
  play: 6,
  /** seed, even velocity or 0, exponent of velocity, 1 where the limiter is on: what applies to the whole kit */
  kit: 7,
  /** number, value 0 to 1, engine frame */
  control: 8,
  /** pad or -1, value 0 to 1, engine frame */
  press: 9,
} as const;

/** What a record of the kind `play` does: stops the score, has it go on elsewhere, or begins it with takes and chances anew. */
export const Playing = { stop: 0, goOn: 1, anew: 2 } as const;

/**
 * Layout of the shared state: written by the audio thread, read by the page, which resets `mostVoices` and `highest` to 0,
 * and `reduced` to 1. `highest` is of what comes into the limiter, `peak` and `lufs` of what goes out.
 */
export const State = {
  frame: 0,
  mostVoices: 1,
  peak: 2,
  received: 3,
  highest: 4,
  struck: 5,
  reduced: 6,
  lufs: 7,
  /** Engine frame at which the lap that is heard began; -Infinity while no score runs. */
  lapBegan: 8,
  length: 9,
} as const;

/** Strikes whose engine frame is remembered: a serial number and a frame each. */
export const FALLS = 256;

/** The shared buffers, each with its length in bytes. */
export const BUFFERS = {
  ring: RING_RECORDS * RECORD_FLOATS * 8,
  /** Two 32-bit integers: records written, records read. */
  cursor: 8,
  state: State.length * 8,
  programs: 2 * PROGRAMS * PROGRAM_FLOATS * 8,
  programVersions: PROGRAMS * 4,
  score: 2 * SCORE_FLOATS * 8,
  scoreVersion: 4,
  falls: FALLS * 2 * 8,
  /** Decaying peak of each pad and bus, linear. */
  peaks: PROGRAMS * 8,
} as const;

export type Shared = { readonly [B in keyof typeof BUFFERS | 'memory']: SharedArrayBuffer };

/** Allocates all shared buffers, with sample memory of so many floats. */
export function newShared(memoryFloats: number): Shared {
  const buffers = Object.entries(BUFFERS).map(([name, bytes]) => [name, new SharedArrayBuffer(bytes)]);
  return { ...Object.fromEntries(buffers), memory: new SharedArrayBuffer(memoryFloats * 4) };
}

/** Float offset of a pad's program in the banks, at a version. */
export function programAt(pad: number, version: number): number {
  return (pad * 2 + (version & 1)) * PROGRAM_FLOATS;
}

/** Float offset of the score in the banks, at a version. */
export function scoreAt(version: number): number {
  return (version & 1) * SCORE_FLOATS;
}

export const PROCESSOR = 'undercroft-voices';
