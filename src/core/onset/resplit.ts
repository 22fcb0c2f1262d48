import { msToFrames } from '../signal/units';
import type { Candidate } from './detect';
import { exactGrid, gridLines, gridRegions, quartersOf } from './grid';
import { LEAST_FRAMES, type Mark, type MarkChanges, type NewMark } from './marks';
import { selectOnsets } from './select';
import { type Levels, splitBySilence } from './silence';
import type { Region, Split } from './split';
import type { TempoGuess } from './tempo';

/** A mark or region as a file names it; `length` 0 for a point. */
export interface FileMark {
  readonly frame: number;
  readonly length: number;
}

/** What is known of a recording that it is to be split by. */
export interface Heard {
  readonly sampleRate: number;
  readonly totalFrames: number;
  readonly candidates: readonly Candidate[];
  /** Null where they are not at hand: then there is no split by silence. */
  readonly levels: Levels | null;
  readonly tempo: TempoGuess | null;
  readonly fileMarks: readonly FileMark[];
}

/** A slice that a split asks for. */
interface Wanted extends Region {
  /** Whether it runs to its end whatever starts before it. */
  readonly whole: boolean;
}

/** The slices that a split asks for over a whole recording, in order. */
export function wantedRegions(split: Split, heard: Heard): Wanted[] {
  const { sampleRate, totalFrames, candidates } = heard;
  switch (split.method) {
    case 'attack': {
      const preRoll = msToFrames(split.preRollMs, sampleRate);
      return selectOnsets(candidates, split, sampleRate).map(({ frame, decayEnd }) => ({
        startFrame: Math.max(0, frame - preRoll),
        endFrame: Math.min(totalFrames, Math.max(frame + 1, decayEnd)),
        whole: false,
      }));
    }
    case 'silence': {
      if (!heard.levels) return [];
      const regions = splitBySilence(heard.levels, candidates, split, sampleRate, totalFrames);
      return regions.map((region) => ({ ...region, whole: false }));
    }
    case 'grid': {
      const grid = exactGrid(split, heard.tempo);
      if (!grid) return [];
      const step = (60 / grid.tempoBpm) * sampleRate * quartersOf(grid.noteValue, grid.beats, grid.beatUnit);
      const regions = gridRegions(gridLines(grid, candidates, sampleRate, totalFrames), step, totalFrames);
      return regions.map((region) => ({ ...region, whole: false }));
    }
    case 'marks':
      return regionsOfFile(heard);
  }
}

/** How near a candidate must lie to a file's point to tell where its sound dies away, in seconds. */
const SAME_SOUND_S = 0.012;

/** A file's regions as they are; a point runs up to the next one or to where its sound has died away. */
function regionsOfFile({ fileMarks, candidates, sampleRate, totalFrames }: Heard): Wanted[] {
  const inOrder = [...fileMarks].sort((a, b) => a.frame - b.frame);
  return inOrder.flatMap(({ frame, length }, i): Wanted[] => {
    if (frame >= totalFrames - LEAST_FRAMES || inOrder[i - 1]?.frame === frame) return [];
    if (length > 0)
      return [
        { startFrame: frame, endFrame: Math.min(totalFrames, frame + Math.max(length, LEAST_FRAMES)), whole: true },
      ];
    const sound = candidates.find((c) => Math.abs(c.frame - frame) < SAME_SOUND_S * sampleRate);
    return [{ startFrame: frame, endFrame: Math.min(totalFrames, sound?.decayEnd ?? totalFrames), whole: false }];
  });
}

/**
 * Splits anew, within a region or over all. Marks set by hand or locked stay as they are; found ones are replaced by those
 * that the split asks for, and keep their id where their start is the same. Each ends at the next start or at its own end.
 */
export function resplit(marks: readonly Mark[], split: Split, heard: Heard, within: Region | null = null): MarkChanges {
  const { totalFrames } = heard;
  const inside = (frame: number) => !within || (frame >= within.startFrame && frame < within.endFrame);
  const replaced = marks.filter((m) => m.origin === 'found' && !m.locked && inside(m.startFrame));
  const gone = new Set(replaced.map((m) => m.id));
  const staying = marks
    .filter((m) => !gone.has(m.id))
    .map((m) => m.startFrame)
    .sort((a, b) => a - b);
  const spacing = split.method === 'attack' ? msToFrames(split.spacingMs, heard.sampleRate) : LEAST_FRAMES;
  const wanted = wantedRegions(split, heard).filter(
    (r) => inside(r.startFrame) && !isNear(staying, r.startFrame, spacing),
  );
  const nextStart = nextAfter([...staying, ...wanted.map((w) => w.startFrame)].sort((a, b) => a - b));
  const old = new Map(replaced.map((m) => [m.startFrame, m]));
  const create: NewMark[] = [];
  const update: MarkChanges['update'][number][] = [];
  for (const { startFrame, endFrame: own, whole } of wanted) {
    const next = nextStart(startFrame) ?? totalFrames;
    const stop =
      within && startFrame < within.endFrame && !whole ? Math.min(own, Math.max(within.endFrame, startFrame + 1)) : own;
    const endFrame = Math.max(startFrame + 1, whole ? own : Math.min(next, stop, totalFrames));
    const same = old.get(startFrame);
    old.delete(startFrame);
    if (!same) create.push({ startFrame, endFrame, origin: 'found' });
    else if (same.endFrame !== endFrame && same.keepFrame === null) update.push({ id: same.id, set: { endFrame } });
  }
  if (within) update.push(...shortened(marks, gone, wanted));
  return { create, update, remove: [...old.values()].map((m) => m.id) };
}

/** Found slices that begin before the region and run into a new one end there now. */
function shortened(
  marks: readonly Mark[],
  gone: ReadonlySet<string>,
  wanted: readonly Region[],
): MarkChanges['update'][number][] {
  return marks.flatMap((mark) => {
    if (gone.has(mark.id) || mark.origin === 'hand' || mark.locked) return [];
    const next = wanted.find((w) => w.startFrame > mark.startFrame);
    return next && next.startFrame < mark.endFrame ? [{ id: mark.id, set: { endFrame: next.startFrame } }] : [];
  });
}

function isNear(starts: readonly number[], frame: number, distance: number): boolean {
  let low = 0;
  let high = starts.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((starts[mid] as number) < frame) low = mid + 1;
    else high = mid;
  }
  return [starts[low - 1], starts[low]].some((s) => s !== undefined && Math.abs(s - frame) < distance);
}

/** For frames asked in rising order: the first start after each. */
function nextAfter(starts: readonly number[]): (frame: number) => number | undefined {
  let i = 0;
  return (frame) => {
    while (i < starts.length && (starts[i] as number) <= frame) i++;
    return starts[i];
  };
}
