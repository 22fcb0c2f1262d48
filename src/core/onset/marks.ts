import type { Region } from './split';

/** The fields of a slice that cutting changes. */
export interface Mark {
  readonly id: string;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly origin: 'found' | 'hand';
  /** A locked mark stays, whatever is split again. */
  readonly locked: boolean;
  /** Frame up to which sound is kept although it has died away before. Null where nothing was set. */
  readonly keepFrame: number | null;
}

/** The fields of a new mark; the rest follows. */
export type NewMark = Region & Pick<Mark, 'origin'>;

/** Changes of slices by a cutting gesture, as data: committed as one edit, or previewed. */
export interface MarkChanges {
  readonly create: readonly NewMark[];
  readonly update: readonly { readonly id: string; readonly set: Partial<Omit<Mark, 'id'>> }[];
  readonly remove: readonly string[];
}

type Update = MarkChanges['update'][number];

export const NO_CHANGES: MarkChanges = { create: [], update: [], remove: [] };
/** Shortest slice that an edge can be dragged to, in frames. */
export const LEAST_FRAMES = 16;

export function changesNothing({ create, update, remove }: MarkChanges): boolean {
  return create.length === 0 && update.length === 0 && remove.length === 0;
}

export function sortedMarks<T extends Region>(marks: readonly T[]): T[] {
  return [...marks].sort((a, b) => a.startFrame - b.startFrame || a.endFrame - b.endFrame);
}

/** The slice that ends exactly where `mark` starts, and so shares its edge. */
function neighbourBefore(marks: readonly Mark[], mark: Mark): Mark | undefined {
  return marks.find((other) => other.id !== mark.id && other.endFrame === mark.startFrame);
}

/** Moves a slice's start; a slice that ends there follows, so that no gap opens. A moved mark counts as set by hand. */
export function moveStart(marks: readonly Mark[], id: string, frame: number): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  if (!mark) return NO_CHANGES;
  const before = neighbourBefore(marks, mark);
  const low = before ? before.startFrame + LEAST_FRAMES : 0;
  const startFrame = Math.round(Math.max(low, Math.min(mark.endFrame - LEAST_FRAMES, frame)));
  if (startFrame === mark.startFrame) return NO_CHANGES;
  const update: Update[] = [{ id, set: { startFrame, origin: 'hand' } }];
  if (before) update.push({ id: before.id, set: { endFrame: startFrame } });
  return { ...NO_CHANGES, update };
}

/** Moves a slice's end, past the next slice's start if necessary: tails may overlap. */
export function moveEnd(marks: readonly Mark[], id: string, frame: number, totalFrames: number): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  if (!mark) return NO_CHANGES;
  const endFrame = Math.round(Math.max(mark.startFrame + LEAST_FRAMES, Math.min(totalFrames, frame)));
  if (endFrame === mark.endFrame) return NO_CHANGES;
  return { ...NO_CHANGES, update: [{ id, set: { endFrame, origin: 'hand' } }] };
}

/**
 * Adds a mark by hand: inside a slice it splits it, elsewhere the new slice runs to the next start. `naturalEnd` is
 * where the sound has died away, if known.
 */
export function addMark(
  marks: readonly Mark[],
  frame: number,
  totalFrames: number,
  naturalEnd = totalFrames,
): MarkChanges {
  const startFrame = Math.round(Math.max(0, Math.min(totalFrames - LEAST_FRAMES, frame)));
  if (marks.some((m) => Math.abs(m.startFrame - startFrame) < LEAST_FRAMES)) return NO_CHANGES;
  const inOrder = sortedMarks(marks);
  const inside = inOrder.filter((m) => m.startFrame < startFrame && startFrame < m.endFrame).at(-1);
  const next = inOrder.find((m) => m.startFrame > startFrame);
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

/** Makes a slice of a stretch as it is, whatever lies around it. */
export function addStretch(stretch: Region, totalFrames: number): MarkChanges {
  const startFrame = Math.max(0, Math.round(stretch.startFrame));
  const endFrame = Math.min(totalFrames, Math.round(stretch.endFrame));
  if (endFrame - startFrame < LEAST_FRAMES) return NO_CHANGES;
  return { ...NO_CHANGES, create: [{ startFrame, endFrame, origin: 'hand' }] };
}

/** Removes marks: a slice that ended at one takes over its stretch. */
export function removeMarks(marks: readonly Mark[], ids: readonly string[]): MarkChanges {
  const gone = new Set(ids);
  const ends = new Map<string, number>();
  const byEnd = new Map<number, Mark>();
  const remove: string[] = [];
  for (const mark of sortedMarks(marks)) {
    if (!gone.has(mark.id)) {
      byEnd.set(mark.endFrame, mark);
      continue;
    }
    remove.push(mark.id);
    const before = byEnd.get(mark.startFrame);
    if (!before) continue;
    ends.set(before.id, mark.endFrame);
    byEnd.set(mark.endFrame, before);
  }
  return { create: [], update: [...ends].map(([id, endFrame]) => ({ id, set: { endFrame } })), remove };
}

/** Joins slices, and what lies between them, into one: the first keeps its name and runs to the last one's end. */
export function mergeMarks(marks: readonly Mark[], ids: readonly string[]): MarkChanges {
  const wanted = new Set(ids);
  const [first, ...rest] = sortedMarks(marks.filter((m) => wanted.has(m.id)));
  if (!first || rest.length === 0) return NO_CHANGES;
  const endFrame = Math.max(first.endFrame, ...rest.map((m) => m.endFrame));
  return {
    create: [],
    update: [{ id: first.id, set: { endFrame, origin: 'hand' } }],
    remove: rest.map((m) => m.id),
  };
}

/**
 * Moves ends to where sounds have died away, at most to the next slice's start, unless `overNext`; kept sound stays.
 */
export function untilItDiesAway(
  marks: readonly Mark[],
  ids: readonly string[],
  diesAwayAt: (mark: Mark) => number,
  totalFrames: number,
  overNext = false,
): MarkChanges {
  const wanted = new Set(ids);
  const inOrder = sortedMarks(marks);
  const update = inOrder.flatMap((mark, i): Update[] => {
    if (!wanted.has(mark.id) || mark.locked) return [];
    const next = inOrder.slice(i + 1).find((other) => other.startFrame >= mark.startFrame + LEAST_FRAMES)?.startFrame;
    const died = Math.min(diesAwayAt(mark), overNext ? totalFrames : (next ?? totalFrames));
    const endFrame = Math.round(
      Math.min(totalFrames, Math.max(mark.startFrame + LEAST_FRAMES, died, mark.keepFrame ?? 0)),
    );
    return endFrame === mark.endFrame ? [] : [{ id: mark.id, set: { endFrame, origin: 'hand' } }];
  });
  return { ...NO_CHANGES, update };
}

/** Keeps all sound of a slice up to a frame, though it has died away before; extends its end where needed. */
export function keepUpTo(marks: readonly Mark[], id: string, frame: number, totalFrames: number): MarkChanges {
  const mark = marks.find((m) => m.id === id);
  const keepFrame = Math.round(Math.min(totalFrames, frame));
  if (!mark || keepFrame <= mark.startFrame) return NO_CHANGES;
  const endFrame = Math.max(mark.endFrame, keepFrame);
  return { ...NO_CHANGES, update: [{ id, set: { keepFrame, endFrame, origin: 'hand' } }] };
}

export function lockMarks(marks: readonly Mark[], ids: readonly string[], locked: boolean): MarkChanges {
  const wanted = new Set(ids);
  const update = marks
    .filter((m) => wanted.has(m.id) && m.locked !== locked)
    .map((m): Update => ({ id: m.id, set: { locked } }));
  return { ...NO_CHANGES, update };
}

/** The slices with changes applied; `make` completes new ones. */
export function applyMarks<T extends Mark>(
  marks: readonly T[],
  changes: MarkChanges,
  make: (mark: NewMark, i: number) => T,
): T[] {
  const removed = new Set(changes.remove);
  const updates = new Map(changes.update.map((u) => [u.id, u.set]));
  const kept = marks
    .filter((m) => !removed.has(m.id))
    .map((m) => (updates.has(m.id) ? { ...m, ...updates.get(m.id) } : m));
  return sortedMarks([...kept, ...changes.create.map(make)]);
}
