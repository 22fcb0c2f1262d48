import { type Candidate, detectOnsets } from './detect';

/** Short enough that a part of any format takes tens of megabytes, long relative to its margins. */
const PART_SECONDS = 30;
/** Margin before a part, for adaptation, and after it, to follow tails to their end. */
const BEFORE_SECONDS = 1;
const AFTER_SECONDS = 12;
/** The onset at a seam may be found from both sides, a frame or two apart. */
const SAME_S = 0.012;

/** A recording of any length, of which the frames [start, end) can be read as one channel. */
export interface Listened {
  readonly readMono: (start: number, end: number) => Float32Array;
  readonly totalFrames: number;
  readonly sampleRate: number;
  /** Peak of the whole recording, the reference for quietness. */
  readonly reference: number;
}

/** Number of parts of a recording; each can be analysed alone. */
export function partCount({ totalFrames, sampleRate }: Listened): number {
  return Math.ceil(totalFrames / (PART_SECONDS * sampleRate));
}

/** The candidates of one part, counted from 0; its margins are read as well. */
export function detectPart({ readMono, totalFrames, sampleRate, reference }: Listened, part: number): Candidate[] {
  const start = part * PART_SECONDS * sampleRate;
  const end = Math.min(totalFrames, start + PART_SECONDS * sampleRate);
  const from = Math.max(0, start - BEFORE_SECONDS * sampleRate);
  const to = Math.min(totalFrames, end + AFTER_SECONDS * sampleRate);
  return detectOnsets(readMono(from, to), sampleRate, reference, end - from, from === 0).flatMap((candidate) => {
    const frame = candidate.frame + from;
    return frame < start || frame >= end ? [] : [{ ...candidate, frame, decayEnd: candidate.decayEnd + from }];
  });
}

/** The candidates of all parts, in order, as those of one recording. */
export function joinParts(parts: readonly (readonly Candidate[])[], sampleRate: number): Candidate[] {
  const found: Candidate[] = [];
  for (const candidate of parts.flat())
    if (candidate.frame - (found.at(-1)?.frame ?? Number.NEGATIVE_INFINITY) >= SAME_S * sampleRate)
      found.push(candidate);
  return found;
}

/**
 * Detection over a recording of any length in bounded memory, part by part; `progress` is called with 0..1 after each.
 */
export function detectLong(listened: Listened, progress: (share: number) => void = () => {}): Candidate[] {
  const count = partCount(listened);
  const parts = Array.from({ length: count }, (_, part) => {
    const found = detectPart(listened, part);
    progress((part + 1) / count);
    return found;
  });
  return joinParts(parts, listened.sampleRate);
}
