import { msToFrames, pitchRatio } from '../signal/units';
import { type Step, valuesOf } from './step';

/** Where the frames of a source lie in the sound that steps made of it. */
export interface CarriedMarks {
  /** The place of a frame; null where it lies outside the sound. */
  readonly frame: (at: number) => number | null;
  /** The place of the part of [start, end) inside the sound; null where nothing of it is left. */
  readonly stretch: (start: number, end: number) => { readonly startFrame: number; readonly endFrame: number } | null;
}

interface Printed {
  /** The stretch of the source. */
  readonly startFrame: number;
  readonly endFrame: number;
  /** Length of the sound that was made of it. */
  readonly frames: number;
  readonly sampleRate: number;
}

/**
 * Carries marks through steps. A tune that changes the length and a tempo move them evenly, a trim moves them to its start and a
 * reversal mirrors them; lengths and
 * tails cut off or add at the end, which moves nothing before it.
 */
export function carriedMarks(
  steps: readonly Step[],
  { startFrame, endFrame, frames, sampleRate }: Printed,
): CarriedMarks {
  const active = steps.filter((step) => step.active);
  const moves = active.flatMap((step): ((at: number) => number)[] => {
    if (step.processor === 'tune') {
      const { semitones, cents, keep } = valuesOf(step) as unknown as {
        semitones: number;
        cents: number;
        keep: 'nothing' | 'length' | 'attack';
      };
      const ratio = keep === 'nothing' ? pitchRatio(semitones, cents) : 1;
      return ratio === 1 ? [] : [(at) => at / ratio];
    }
    if (step.processor === 'tempo') {
      const { fromBpm, toBpm } = valuesOf(step) as unknown as { fromBpm: number; toBpm: number };
      return [(at) => (at * fromBpm) / toBpm];
    }
    if (step.processor === 'trim') {
      const { fromMs } = valuesOf(step) as unknown as { fromMs: number };
      return [(at) => at - msToFrames(fromMs, sampleRate)];
    }
    return step.processor === 'reverse' ? [(at) => frames - at] : [];
  });
  const carry = (at: number) => Math.round(moves.reduce((now, move) => move(now), at - startFrame));
  return {
    frame: (at) => {
      const place = carry(at);
      return at >= startFrame && at < endFrame && place >= 0 && place < frames ? place : null;
    },
    stretch: (start, end) => {
      const ends = [carry(Math.max(start, startFrame)), carry(Math.min(end, endFrame))].sort((a, b) => a - b);
      const from = Math.max(0, ends[0] as number);
      const to = Math.min(frames, ends[1] as number);
      return to > from ? { startFrame: from, endFrame: to } : null;
    },
  };
}
