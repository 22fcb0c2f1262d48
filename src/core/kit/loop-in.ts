import type { TreatedHit } from '../hit/key';
import { wholeChain } from '../hit/key';
import type { Candidate } from '../onset/detect';
import { selectOnsets } from '../onset/select';
import type { Region } from '../onset/split';
import { estimateTempo } from '../onset/tempo';
import { MAX_CUTS } from '../play/limits';
import { carriedMarks } from '../treatment/carried-marks';
import type { PadValues } from './parameters';

/** What is known of the recording of a loop. */
interface Source {
  readonly sampleRate: number;
  /** Its tempo as a person or the file says; null where neither does. */
  readonly tempoBpm: number | null;
  readonly slices: readonly Region[];
  readonly candidates: readonly Candidate[];
}

/** Beats that loops have, the likelier first, and the tempi between which one is taken for its length alone. */
const BEATS = [8, 16, 4, 32, 2, 64, 1] as const;
const [SLOWEST, FASTEST] = [70, 175] as const;

/**
 * Tempo and slices of a hit that is a loop: the slices of its recording, or where that has fewer than two in it the strokes
 * that are found; its tempo is that of the recording, or of these, or the one at which its length is whole beats. `frames`
 * is its length as it sounds.
 */
export function loopIn(source: Source, hit: TreatedHit, frames: number): Pick<PadValues, 'loopBpm' | 'cuts'> {
  const { sampleRate, slices, candidates } = source;
  const { startFrame, endFrame } = hit;
  const isInside = (frame: number) => frame >= startFrame && frame < endFrame;
  const own = slices.map((slice) => slice.startFrame).filter(isInside);
  const strokes = selectOnsets(
    candidates.filter(({ frame }) => isInside(frame)),
    {},
    sampleRate,
  );
  const starts = own.length >= 2 ? own : strokes.map(({ frame }) => frame);
  const carried = carriedMarks(wholeChain(hit), { startFrame, endFrame, frames, sampleRate });
  const cuts = starts.flatMap((at) => {
    const place = carried.frame(at);
    return place === null ? [] : [{ atMs: Math.round((place / sampleRate) * 1e6) / 1000 }];
  });
  const seconds = frames / sampleRate;
  const moved = strokes.map((stroke) => ({ ...stroke, frame: stroke.frame - startFrame }));
  const heard = estimateTempo(moved, sampleRate, endFrame - startFrame)?.bpm ?? null;
  return { loopBpm: source.tempoBpm ?? heard ?? bpmOf(seconds), cuts: cuts.slice(0, MAX_CUTS) };
}

/** The tempo at which so many seconds are whole beats. */
function bpmOf(seconds: number): number {
  const fits = BEATS.map((beats) => (beats * 60) / seconds).find((bpm) => bpm >= SLOWEST && bpm <= FASTEST);
  return fits ?? 120;
}
