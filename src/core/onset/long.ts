import { type Candidate, detectOnsets } from './detect';

/** Short enough that a part of any format takes some tens of megabytes, long against what lies around it. */
const PART_SECONDS = 30;
/** Sound before a part that the method needs to learn from, and after it to follow tails to their end. */
const BEFORE_SECONDS = 1;
const AFTER_SECONDS = 12;

/**
 * Detection over a recording of any length in bounded memory: part by part, with what lies around each. `readMono` gives
 * the frames [start, end); `progress` is called with 0..1 after each part.
 */
export function detectLong(
  readMono: (start: number, end: number) => Float32Array,
  totalFrames: number,
  sampleRate: number,
  reference: number,
  progress: (share: number) => void = () => {},
): Candidate[] {
  const part = PART_SECONDS * sampleRate;
  const found: Candidate[] = [];
  for (let start = 0; start < totalFrames; start += part) {
    const end = Math.min(totalFrames, start + part);
    const from = Math.max(0, start - BEFORE_SECONDS * sampleRate);
    const to = Math.min(totalFrames, end + AFTER_SECONDS * sampleRate);
    for (const candidate of detectOnsets(readMono(from, to), sampleRate, reference, end - from)) {
      const frame = candidate.frame + from;
      // The mark just before a seam may be found from both sides, a frame or two apart.
      if (frame < start || frame >= end || frame - (found.at(-1)?.frame ?? -1e9) < 0.012 * sampleRate) continue;
      found.push({ ...candidate, frame, decayEnd: candidate.decayEnd + from });
    }
    progress(end / totalFrames);
  }
  return found;
}
