import { OFFSET_NAMES, type OffsetName } from './moves';

/** A stroke of a repeated score. Times are engine frames from the beginning of the loop, with fractions. */
export interface Stroke {
  readonly at: number;
  readonly pad: number;
  readonly velocity: number;
  /** The range of the pad's sound to play; -1 for that of its program. */
  readonly from: number;
  readonly to: number;
  /** When a pad that sounds while it is held is let go; -1, as without it, where it is not. */
  readonly until?: number;
  /** By how much this stroke is off what its pad's program says, in the units of the targets. */
  readonly offsets?: Partial<Readonly<Record<OffsetName, number>>> | undefined;
}

/** Figures of a program and their values, by turns. One that comes again is the same object: it is stored once. */
export type Patch = readonly number[];

/** A change of a program while a score runs: what sounds goes there in a line over so many frames, or jumps for 0. */
export interface Change {
  readonly at: number;
  /** A pad, or a bus by its place among the programs. */
  readonly place: number;
  readonly over: number;
  readonly patch: Patch;
}

export const MOST_STROKES = 16_384;
/** Most changes of programs in a score, and floats of their patches. */
export const MOST_CHANGES = 32_768;
export const MOST_PATCH_FLOATS = 262_144;

const FIELDS = ['at', 'pad', 'velocity', 'from', 'to', 'until'] as const satisfies readonly (keyof Stroke)[];
export const STROKE = { at: 0, pad: 1, velocity: 2, from: 3, to: 4, until: 5, offsets: 6 } as const;
export const STROKE_FLOATS = FIELDS.length + OFFSET_NAMES.length;
/** `first` is the float of a score at which the patch begins, `count` how many figures it has. */
export const CHANGE = { at: 0, place: 1, over: 2, first: 3, count: 4 } as const;
export const CHANGE_FLOATS = 5;

/** The first floats of a score: its numbers of strokes, changes and patch floats, and the length of the loop. */
export const HEAD = { strokes: 0, length: 1, changes: 2, patchFloats: 3 } as const;
export const STROKES_AT = 4;
export const CHANGES_AT = STROKES_AT + MOST_STROKES * STROKE_FLOATS;
export const PATCHES_AT = CHANGES_AT + MOST_CHANGES * CHANGE_FLOATS;
/** A score is one flat array: strokes and changes in order of time, then patches, each in a place of its own. */
export const SCORE_FLOATS = PATCHES_AT + MOST_PATCH_FLOATS;

/**
 * Writes a score from float `at` on. Throws a RangeError for more strokes or changes than it can hold or a loop without a
 * length.
 */
export function writeScore(
  strokes: readonly Stroke[],
  length: number,
  into: Float64Array,
  at = 0,
  changes: readonly Change[] = [],
): void {
  if (strokes.length > MOST_STROKES) throw new RangeError(`A loop has up to ${MOST_STROKES} strokes.`);
  if (changes.length > MOST_CHANGES) throw new RangeError(`A loop has up to ${MOST_CHANGES} changes.`);
  if (!(length >= 1)) throw new RangeError('A loop is at least a frame long.');
  for (const [i, stroke] of inTime(strokes).entries()) {
    const to = at + STROKES_AT + i * STROKE_FLOATS;
    for (const [f, field] of FIELDS.entries()) into[to + f] = stroke[field] ?? -1;
    for (const [o, name] of OFFSET_NAMES.entries()) into[to + STROKE.offsets + o] = stroke.offsets?.[name] ?? 0;
  }
  const placed = new Map<Patch, number>();
  let end = 0;
  for (const [i, { at: time, place, over, patch }] of inTime(changes).entries()) {
    let first = placed.get(patch);
    if (first === undefined) {
      if (end + patch.length > MOST_PATCH_FLOATS) throw new RangeError('The changes of a loop have too many values.');
      first = end;
      into.set(patch, at + PATCHES_AT + first);
      placed.set(patch, first);
      end += patch.length;
    }
    into.set([time, place, over, PATCHES_AT + first, patch.length / 2], at + CHANGES_AT + i * CHANGE_FLOATS);
  }
  into.set([strokes.length, length, changes.length, end], at);
}

function inTime<T extends { readonly at: number }>(events: readonly T[]): readonly T[] {
  return events.toSorted((a, b) => a.at - b.at);
}

/** Copies the score at float `at` of `from`, as much as there is of it. Allocates nothing. */
export function copyScore(from: Float64Array, at: number, into: Float64Array): void {
  const strokes = from[at + HEAD.strokes] as number;
  const changes = from[at + HEAD.changes] as number;
  const floats = from[at + HEAD.patchFloats] as number;
  for (let i = 0; i < STROKES_AT + strokes * STROKE_FLOATS; i++) into[i] = from[at + i] as number;
  for (let i = CHANGES_AT; i < CHANGES_AT + changes * CHANGE_FLOATS; i++) into[i] = from[at + i] as number;
  for (let i = PATCHES_AT; i < PATCHES_AT + floats; i++) into[i] = from[at + i] as number;
}
