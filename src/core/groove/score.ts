import { noteOf } from '../kit/layout';
import type { Pad } from '../kit/model';
import type { Stroke } from '../play/score';
import { strokesOf } from './edits';
import { type Groove, type GrooveNote, type GrooveRow, TICKS_PER_QUARTER } from './model';
import { barStarts, meterAt, swungTick } from './time';

/** The pad that plays a row: that of its role, else that of its note, else one of its family; null where none does. */
export function padOfRow<P extends Pad>(
  { role, note, family }: Pick<GrooveRow, 'role' | 'note' | 'family'>,
  pads: readonly P[],
): { readonly pad: P; readonly isSubstitute: boolean } | null {
  const own = role === '' ? undefined : pads.find((pad) => (pad.role || pad.name) === role);
  const exact = own ?? pads.find((pad) => noteOf(pad) === note);
  if (exact) return { pad: exact, isSubstitute: false };
  const like = family === null ? undefined : pads.find((pad) => pad.family === family);
  return like ? { pad: like, isSubstitute: true } : null;
}

/** The rows that are heard: those that are alone where any is, otherwise those that are not muted. */
export function heardRows<R extends Pick<GrooveRow, 'muted' | 'alone'>>(rows: readonly R[]): readonly R[] {
  const isAnyAlone = rows.some(({ alone }) => alone);
  return rows.filter(({ muted, alone }) => (isAnyAlone ? alone : !muted));
}

/** Whether a pad sounds only while it is held: its notes have a length. */
export function isHeld({ mode }: Pick<Pad, 'mode'>): boolean {
  return mode === 'held' || mode === 'looped';
}

/** The beats of a stretch as strokes of a pad: the first of each bar harder. */
export function beatsOf(
  groove: Pick<Groove, 'bars' | 'meters' | 'bpm'>,
  { from, to }: Stretch,
  pad: number,
  sampleRate: number,
): Stroke[] {
  const framesPerTick = (60 * sampleRate) / (groove.bpm * TICKS_PER_QUARTER);
  return barStarts(groove)
    .slice(0, groove.bars)
    .flatMap((start, bar) => {
      const meter = meterAt(groove, bar);
      const beat = (4 * TICKS_PER_QUARTER) / meter.beatUnit;
      return Array.from({ length: meter.beats }, (_, n) => ({ tick: start + n * beat, velocity: n === 0 ? 127 : 80 }));
    })
    .filter(({ tick }) => tick >= from && tick < to)
    .map(({ tick, velocity }) => ({ at: (tick - from) * framesPerTick, pad, velocity, from: -1, to: -1 }));
}

/** What a note is off its pad by, as the engine has it; nothing for one that has only its velocity. */
export function offsetsOf({ levelDb, semitones, pan, filterOctaves, startMs }: GrooveNote): Stroke['offsets'] {
  if (levelDb === 0 && semitones === 0 && pan === 0 && filterOctaves === 0 && startMs === 0) return undefined;
  return { level: levelDb, tune: 100 * semitones, pan, cutoff: filterOctaves, start: startMs };
}

/** A stretch of a groove, in ticks. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/**
 * What the engine plays of a stretch of a groove with a kit, over and over: strokes and the length of a lap in frames.
 * Notes that begin in it are in it; pads that sound while they are held are let go when a note ends.
 */
export function scoreOf(
  groove: Pick<Groove, 'bars' | 'meters' | 'bpm' | 'swing' | 'swingOf'>,
  rows: readonly GrooveRow[],
  notes: readonly GrooveNote[],
  pads: readonly Pad[],
  { from, to }: Stretch,
  sampleRate: number,
): { readonly strokes: Stroke[]; readonly length: number } {
  const framesPerTick = (60 * sampleRate) / (groove.bpm * TICKS_PER_QUARTER);
  const starts = barStarts(groove);
  const length = Math.max(1, (to - from) * framesPerTick);
  const framesAt = (tick: number) => (swungTick(tick, groove, starts) - from) * framesPerTick;
  const padOf = new Map(heardRows(rows).map((row) => [row.id, padOfRow(row, pads)?.pad]));
  const strokes = notes.flatMap((note): Stroke[] => {
    const pad = padOf.get(note.rowId);
    if (!pad || note.tick < from || note.tick >= to) return [];
    const own = strokesOf(note);
    const offsets = offsetsOf(note);
    return own.map(({ after, velocity }, n) => {
      // What a swing would carry over the end of the stretch is struck right before it.
      const at = Math.min(framesAt(note.tick + after), length - 1);
      const until = isHeld(pad) ? framesAt(note.tick + ((n + 1) * note.length) / own.length) : -1;
      return { at, pad: pad.position, velocity, from: -1, to: -1, until, offsets };
    });
  });
  return { strokes, length };
}
