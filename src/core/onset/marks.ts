import { msToFrames } from '../signal/units';
import type { Candidate } from './detect';
import { type AttackSplit, selectOnsets } from './select';

/** A slice as marks are worked on: the fields that cutting changes. */
export interface Mark {
  readonly id: string;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly origin: 'found' | 'hand';
}

/** What cutting does to slices, as data: to be sent as one edit, or shown as a preview. */
export interface MarkChanges {
  readonly create: readonly Omit<Mark, 'id'>[];
  readonly update: readonly { readonly id: string; readonly set: Partial<Omit<Mark, 'id'>> }[];
  readonly remove: readonly string[];
}

const NOTHING: MarkChanges = { create: [], update: [], remove: [] };
/** Shortest slice that an edge can be dragged to, in frames. */
export const LEAST_FRAMES = 16;

function sorted<T extends Mark>(marks: readonly T[]): T[] {
  return [...marks].sort((a, b) => a.startFrame - b.startFrame || a.endFrame - b.endFrame);
}

/** The slice before `mark` that ends exactly where it starts, and so shares its edge. */
function neighbourBefore(marks: readonly Mark[], mark: Mark): Mark | undefined {
  return marks.find((other) => other.id !== mark.id && other.endFrame === mark.startFrame);
}

/** Moves a slice's start; a slice that ends there follows, so that no gap opens. A moved mark counts as set by hand. */
export function moveStart(marks: readonly Mark[], id: string, frame: number): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  if (!mark) return NOTHING;
  const before = neighbourBefore(marks, mark);
  const low = before ? before.startFrame + LEAST_FRAMES : 0;
  const startFrame = Math.round(Math.max(low, Math.min(mark.endFrame - LEAST_FRAMES, frame)));
  if (startFrame === mark.startFrame) return NOTHING;
  const update: MarkChanges['update'][number][] = [{ id, set: { startFrame, origin: 'hand' } }];
  if (before) update.push({ id: before.id, set: { endFrame: startFrame } });
  return { ...NOTHING, update };
}

/** Moves a slice's end, past the next slice's start if wanted: tails may overlap. */
export function moveEnd(marks: readonly Mark[], id: string, frame: number, totalFrames: number): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  if (!mark) return NOTHING;
  const endFrame = Math.round(Math.max(mark.startFrame + LEAST_FRAMES, Math.min(totalFrames, frame)));
  if (endFrame === mark.endFrame) return NOTHING;
  return { ...NOTHING, update: [{ id, set: { endFrame, origin: 'hand' } }] };
}

/**
 * Adds a mark by hand: inside a slice it splits it, elsewhere the new slice runs to the next start. `naturalEnd` is where
 * the sound has died away, if that is known.
 */
export function addMark(
  marks: readonly Mark[],
  frame: number,
  totalFrames: number,
  naturalEnd = totalFrames,
): MarkChanges {
  const startFrame = Math.round(Math.max(0, Math.min(totalFrames - LEAST_FRAMES, frame)));
  if (marks.some((m) => Math.abs(m.startFrame - startFrame) < LEAST_FRAMES)) return NOTHING;
  const inside = sorted(marks)
    .filter((m) => m.startFrame < startFrame && startFrame < m.endFrame)
    .at(-1);
  const next = sorted(marks).find((m) => m.startFrame > startFrame);
  const limit = Math.min(next?.startFrame ?? totalFrames, totalFrames);
  const endFrame = inside
    ? Math.max(startFrame + LEAST_FRAMES, Math.min(inside.endFrame, limit))
    : Math.min(limit, Math.max(naturalEnd, startFrame + LEAST_FRAMES));
  return {
    create: [{ startFrame, endFrame, origin: 'hand' }],
    update: inside ? [{ id: inside.id, set: { endFrame: startFrame } }] : [],
    remove: [],
  };
}

/** Removes a mark: a slice that ended at it takes over its stretch. */
export function removeMark(marks: readonly Mark[], id: string): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  if (!mark) return NOTHING;
  const before = neighbourBefore(marks, mark);
  return { create: [], update: before ? [{ id: before.id, set: { endFrame: mark.endFrame } }] : [], remove: [id] };
}

/**
 * Splits anew by attack. Marks set by hand stay as they are; found ones are replaced by those that `split` selects, and
 * keep their id where their start is the same. Each slice ends at the next start or where its sound has died away.
 */
export function splitByAttack(
  marks: readonly Mark[],
  candidates: readonly Candidate[],
  split: AttackSplit,
  sampleRate: number,
  totalFrames: number,
): MarkChanges {
  const byHand = marks.filter((m) => m.origin === 'hand');
  const spacing = msToFrames(split.spacingMs, sampleRate);
  const handStarts = byHand.map((m) => m.startFrame).sort((a, b) => a - b);
  const onsets = selectOnsets(candidates, split, sampleRate).filter((c) => !isNear(handStarts, c.frame, spacing));
  const starts = [...handStarts, ...onsets.map((c) => c.frame)].sort((a, b) => a - b);
  const nextStart = nextAfter(starts);
  const old = new Map(marks.filter((m) => m.origin === 'found').map((m) => [m.startFrame, m]));
  const create: MarkChanges['create'][number][] = [];
  const update: MarkChanges['update'][number][] = [];
  for (const { frame, decayEnd } of onsets) {
    const endFrame = Math.max(frame + 1, Math.min(nextStart(frame) ?? totalFrames, decayEnd, totalFrames));
    const same = old.get(frame);
    old.delete(frame);
    if (!same) create.push({ startFrame: frame, endFrame, origin: 'found' });
    else if (same.endFrame !== endFrame) update.push({ id: same.id, set: { endFrame } });
  }
  return { create, update, remove: [...old.values()].map((m) => m.id) };
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

/** The slices as they are once changes are applied; new ones get the ids that `newId` gives. */
export function applyMarks<T extends Mark>(
  marks: readonly T[],
  changes: MarkChanges,
  make: (mark: Omit<Mark, 'id'>, i: number) => T,
): T[] {
  const removed = new Set(changes.remove);
  const updates = new Map(changes.update.map((u) => [u.id, u.set]));
  const kept = marks
    .filter((m) => !removed.has(m.id))
    .map((m) => (updates.has(m.id) ? { ...m, ...updates.get(m.id) } : m));
  return sorted([...kept, ...changes.create.map(make)]);
}

/** A mark or region as a file names it; `length` 0 for a point. */
interface FileMark {
  readonly frame: number;
  readonly length: number;
}

/**
 * Slices at the marks a file came with: a region as it is, a point up to the next one or to where the sound has died away
 * (`naturalEnd` of the candidate nearest to it). Where a slice starts at a mark already, none is added.
 */
export function marksFromFile(
  marks: readonly Mark[],
  fileMarks: readonly FileMark[],
  candidates: readonly Candidate[],
  totalFrames: number,
): MarkChanges {
  const points = fileMarks.map((m) => m.frame);
  const create = fileMarks.flatMap(({ frame, length }): Omit<Mark, 'id'>[] => {
    if (marks.some((m) => Math.abs(m.startFrame - frame) < LEAST_FRAMES)) return [];
    const next = points.find((p) => p >= frame + LEAST_FRAMES) ?? totalFrames;
    const natural = candidates.find((c) => Math.abs(c.frame - frame) < 500)?.decayEnd ?? totalFrames;
    const endFrame = length > 0 ? frame + length : Math.min(next, Math.max(natural, frame + LEAST_FRAMES));
    const inside = Math.min(totalFrames, endFrame);
    return inside - frame < LEAST_FRAMES ? [] : [{ startFrame: frame, endFrame: inside, origin: 'hand' }];
  });
  return { ...NOTHING, create };
}
