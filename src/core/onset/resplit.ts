import { msToFrames } from '../signal/units';
import type { Candidate } from './detect';
import { exactGrid, gridLines, gridRegions, quartersOf } from './grid';
import { LEAST_FRAMES, type Mark, type MarkChanges, type NewMark, sortedMarks } from './marks';
import { selectOnsets, strengthIn } from './select';
import { type Levels, SAME_SOUND_S, splitBySilence } from './silence';
import type { Region, Split } from './split';
import type { TempoGuess } from './tempo';

/** A mark or region of a file; `length` 0 for a point. */
export interface FileMark {
  readonly frame: number;
  readonly length: number;
}

/** Facts about a recording that a split needs. */
export interface SplitBasis {
  readonly sampleRate: number;
  readonly totalFrames: number;
  readonly candidates: readonly Candidate[];
  /** Null where they are not loaded: then it cannot be split at silence. */
  readonly levels: Levels | null;
  readonly tempo: TempoGuess | null;
  readonly fileMarks: readonly FileMark[];
}

/** A slice that a split wants. */
interface Wanted extends Region {
  /** Whether it runs to its end whatever starts before it. */
  readonly whole: boolean;
  /**
   * With a limit, slices of the greatest weight are kept: the strongest attacks, the loudest sounds, the first lines.
   */
  readonly weight: number;
}

/** The slices a split wants over a whole recording, in order. */
export function wantedRegions(split: Split, heard: SplitBasis): Wanted[] {
  return atMost(split.strongest, allRegions(split, heard));
}

/** The `most` regions of the greatest weight, in order; all where `most` is null. */
function atMost(most: number | null, regions: readonly Wanted[]): Wanted[] {
  if (most === null || regions.length <= most) return [...regions];
  const kept = new Set([...regions].sort((a, b) => b.weight - a.weight).slice(0, most));
  return regions.filter((region) => kept.has(region));
}

function allRegions(split: Split, heard: SplitBasis): Wanted[] {
  const { sampleRate, totalFrames, candidates } = heard;
  switch (split.method) {
    case 'attack': {
      const preRoll = msToFrames(split.preRollMs, sampleRate);
      const onsets = selectOnsets(candidates, { ...split, strongest: null }, sampleRate);
      return onsets.map((onset) => ({
        startFrame: Math.max(0, onset.frame - preRoll),
        endFrame: Math.min(totalFrames, Math.max(onset.frame + 1, onset.decayEnd)),
        whole: false,
        weight: strengthIn(onset, split.band),
      }));
    }
    case 'silence': {
      if (!heard.levels) return [];
      const sounds = splitBySilence(heard.levels, candidates, split, sampleRate, totalFrames);
      return sounds.map(({ startFrame, endFrame, peakDb }) => ({ startFrame, endFrame, whole: false, weight: peakDb }));
    }
    case 'grid': {
      const grid = exactGrid(split, heard.tempo);
      if (!grid) return [];
      const step = (60 / grid.tempoBpm) * sampleRate * quartersOf(grid.noteValue, grid.beats, grid.beatUnit);
      const regions = gridRegions(gridLines(grid, candidates, sampleRate, totalFrames), step, totalFrames);
      return regions.map((region, i) => ({ ...region, whole: false, weight: -i }));
    }
    case 'marks':
      return regionsOfFile(heard);
  }
}

/** A file's regions unchanged; a point runs up to the next one or to where its sound has died away. */
function regionsOfFile({ fileMarks, candidates, sampleRate, totalFrames }: SplitBasis): Wanted[] {
  const inOrder = [...fileMarks].sort((a, b) => a.frame - b.frame);
  return inOrder.flatMap(({ frame, length }, i): Wanted[] => {
    if (frame >= totalFrames - LEAST_FRAMES || inOrder[i - 1]?.frame === frame) return [];
    if (length > 0)
      return [
        {
          startFrame: frame,
          endFrame: Math.min(totalFrames, frame + Math.max(length, LEAST_FRAMES)),
          whole: true,
          weight: -i,
        },
      ];
    const sound = candidates.find((c) => Math.abs(c.frame - frame) < SAME_SOUND_S * sampleRate);
    return [
      { startFrame: frame, endFrame: Math.min(totalFrames, sound?.decayEnd ?? totalFrames), whole: false, weight: -i },
    ];
  });
}

/**
 * Whether a start lies in a marked stretch. Stretches are marked by eye: starts up to 12 ms before one belong to it, so
 * that a stretch that begins on a hit includes its attack; starts just before its end belong to what follows.
 */
function startsIn(
  { startFrame, endFrame }: Region,
  { sampleRate, totalFrames }: SplitBasis,
): (frame: number) => boolean {
  const edge = SAME_SOUND_S * sampleRate;
  const last = endFrame >= totalFrames ? totalFrames : Math.max(endFrame - edge, startFrame + 1);
  return (frame) => frame >= startFrame - edge && frame < last;
}

/**
 * Splits again, within a region or everywhere. Marks set by hand or locked stay; found ones are replaced, and keep
 * their id where the new one begins within 10 ms. Each ends at the next start or at its own end.
 */
export function resplit(
  marks: readonly Mark[],
  split: Split,
  heard: SplitBasis,
  within: Region | null = null,
): MarkChanges {
  const { totalFrames } = heard;
  const inside = within ? startsIn(within, heard) : () => true;
  const replaced = marks.filter((m) => m.origin === 'found' && !m.locked && inside(m.startFrame));
  const gone = new Set(replaced.map((m) => m.id));
  const staying = marks.filter((m) => !gone.has(m.id));
  const stayingStarts = staying.map((m) => m.startFrame).sort((a, b) => a - b);
  const spacing = split.method === 'attack' ? msToFrames(split.spacingMs, heard.sampleRate) : LEAST_FRAMES;
  const free = allRegions(split, heard).filter(
    (r) => inside(r.startFrame) && !isNear(stayingStarts, r.startFrame, spacing),
  );
  const wanted = atMost(split.strongest, free);
  const nextStart = nextAfter([...stayingStarts, ...wanted.map((w) => w.startFrame)].sort((a, b) => a - b));
  const sameAs = matching(replaced, msToFrames(SAME_SLICE_MS, heard.sampleRate));
  const create: NewMark[] = [];
  const update: MarkChanges['update'][number][] = [];
  for (const { startFrame, endFrame: own, whole } of wanted) {
    const next = nextStart(startFrame) ?? totalFrames;
    const stop = within && !whole ? Math.min(own, Math.max(within.endFrame, startFrame + 1)) : own;
    const endFrame = Math.max(startFrame + 1, whole ? own : Math.min(next, stop, totalFrames));
    const same = sameAs(startFrame);
    if (!same) {
      create.push({ startFrame, endFrame, origin: 'found' });
      continue;
    }
    gone.delete(same.id);
    if (same.startFrame !== startFrame || same.endFrame !== endFrame)
      update.push({ id: same.id, set: { startFrame, endFrame } });
  }
  const remove = replaced.filter((m) => gone.has(m.id)).map((m) => m.id);
  if (within) update.push(...shortened(staying, wanted));
  return { create, update, remove };
}

/** A slice found again this close to its old place keeps its id and its name. */
const SAME_SLICE_MS = 10;

/** For frames in rising order: the mark whose start is nearest within `reach`, each returned once. */
function matching(marks: readonly Mark[], reach: number): (frame: number) => Mark | null {
  const inOrder = sortedMarks(marks);
  let i = 0;
  return (frame) => {
    while (i < inOrder.length && (inOrder[i] as Mark).startFrame < frame - reach) i++;
    let best = i;
    const away = (k: number) => Math.abs((inOrder[k] as Mark).startFrame - frame);
    for (let k = i + 1; k < inOrder.length && away(k) <= away(best); k++) best = k;
    if (best >= inOrder.length || away(best) > reach) return null;
    i = best + 1;
    return inOrder[best] as Mark;
  };
}

/** Found slices outside the region that would overlap a new one end there now. */
function shortened(staying: readonly Mark[], wanted: readonly Region[]): MarkChanges['update'][number][] {
  return staying.flatMap((mark) => {
    if (mark.origin === 'hand' || mark.locked) return [];
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

/** For frames in rising order: the first start after each. */
function nextAfter(starts: readonly number[]): (frame: number) => number | undefined {
  let i = 0;
  return (frame) => {
    while (i < starts.length && (starts[i] as number) <= frame) i++;
    return starts[i];
  };
}
