import { detectOnsets } from '../../src/core/onset/detect';
import type { SplitBasis } from '../../src/core/onset/resplit';
import { resplit } from '../../src/core/onset/resplit';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { type Item, ONE_ONSET_S } from './items';
import { COUNTED_FROM_DB, isCounted, quantile } from './score';

/** Loops are cut this long before the sound that they begin on. */
export const LEADS_MS = [0, 0.5, 3] as const;
/** Strokes a loop is cut at in the middle of an item: these sound over what rings from before. */
const MIDDLE_STROKES = 3;
const CLEAR_RISE_DB = 6;
const WITHIN_MS = 1;

/** A loop cut from an item, and where its first stroke lies in it. */
export interface CutLoop {
  readonly name: string;
  readonly leadMs: number;
  /** Frame of the item at which the loop begins. */
  readonly from: number;
  /** Frame of the item at which the loop's first sound starts. */
  readonly onset: number;
  /** Frame at which a drum is struck as part of that sound, where a note of the music begins just before it; else the same. */
  readonly stroke: number;
}

/** Each item cut 0, 0.5 and 3 ms before its first sound: where a note of the music comes before the first stroke, that. */
export function cutsAtFirst(item: Item): CutLoop[] {
  const first = item.truthOfAll.find((t) => t.raisesDb >= COUNTED_FROM_DB);
  if (!first) return [];
  const stroke = item.truth.find((t) => isCounted(t) && Math.abs(t.seconds - first.seconds) < ONE_ONSET_S);
  return cutsAt(item, first.seconds, stroke?.seconds);
}

/** Each item cut before clear strokes in its middle, where other sounds ring on. */
export function cutsInMiddle(item: Item): CutLoop[] {
  const clear = item.truth.filter(
    (t, i) => isCounted(t) && t.raisesDb >= CLEAR_RISE_DB && t.seconds - (item.truth[i - 1]?.seconds ?? 0) > 0.04,
  );
  const strokes = Array.from(
    { length: Math.min(MIDDLE_STROKES, clear.length) },
    (_, k) => clear[Math.floor(((k + 0.5) * clear.length) / MIDDLE_STROKES)],
  );
  return strokes.flatMap((stroke) => (stroke ? cutsAt(item, stroke.seconds) : []));
}

function cutsAt(item: Item, seconds: number, strokeSeconds = seconds): CutLoop[] {
  const onset = Math.round(seconds * item.sampleRate);
  const stroke = Math.round(strokeSeconds * item.sampleRate);
  return LEADS_MS.map((leadMs) => {
    const from = Math.max(0, onset - Math.round((leadMs / 1000) * item.sampleRate));
    return { name: `${item.name}, ${leadMs} ms before ${seconds.toFixed(3)} s`, leadMs, from, onset, stroke };
  });
}

/** How far the first slice of a cut loop starts from its first stroke, in ms; null where there is no slice. */
export function loopError(item: Item, cut: CutLoop): number | null {
  const { from } = cut;
  const loop = item.samples.slice(from);
  const first = selectOnsets(detectOnsets(loop, item.sampleRate), SPLIT_INITIAL, item.sampleRate)[0];
  return first ? errorMs(item, cut, first.frame + from) : null;
}

function errorMs({ sampleRate }: Item, { onset, stroke }: CutLoop, frame: number): number {
  const off = [onset, stroke].map((start) => frame - start).sort((a, b) => Math.abs(a) - Math.abs(b))[0] as number;
  return (off / sampleRate) * 1000;
}

/** The same of a stretch marked in the whole item, from the cut on, and split anew. */
export function stretchError(item: Item, cut: CutLoop, candidates: SplitBasis['candidates']): number | null {
  const { from } = cut;
  const totalFrames = item.samples.length;
  const heard: SplitBasis = {
    sampleRate: item.sampleRate,
    totalFrames,
    candidates,
    levels: null,
    tempo: null,
    fileMarks: [],
  };
  const within = { startFrame: from, endFrame: Math.min(totalFrames, from + 2 * item.sampleRate) };
  const starts = resplit([], SPLIT_INITIAL, heard, within).create.map((mark) => mark.startFrame);
  const first = Math.min(...starts);
  return Number.isFinite(first) ? errorMs(item, cut, first) : null;
}

/** Share of errors within a millisecond, and how the others lie. */
export function edgeFigures(errors: readonly (number | null)[]) {
  const known = errors.filter((e) => e !== null);
  return {
    count: errors.length,
    within: known.filter((e) => Math.abs(e) <= WITHIN_MS).length / errors.length,
    late: known.filter((e) => e > WITHIN_MS).length,
    early: known.filter((e) => e < -WITHIN_MS).length,
    none: errors.length - known.length,
    worstMs: quantile(known.map(Math.abs), 1),
  };
}
