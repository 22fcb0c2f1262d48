import { strokesOf } from '@/core/groove/edits';
import { type Groove, type GrooveNote, TICKS_PER_QUARTER } from '@/core/groove/model';
import { meterAt } from '@/core/groove/time';
import type { DrawnLine, DrawnStroke } from '@/picture/groove';

/** Narrower than this steps have no lines. */
const LEAST_STEP_PX = 7;
/** Widest that a stroke is drawn. */
export const WIDEST_PX = 36;

/** The strokes of notes, in pixels. */
export function drawnStrokes(notes: readonly GrooveNote[], step: number, perTick: number): DrawnStroke[] {
  const wide = Math.max(3, Math.min(WIDEST_PX, step * perTick * 0.8));
  return notes.flatMap((note) => {
    const strokes = strokesOf(note);
    const own = strokes.length === 1 ? wide : Math.max(2, Math.min(wide, (note.length * perTick) / strokes.length - 2));
    return strokes.map(({ after, velocity }) => ({
      x: (note.tick + after) * perTick + 1,
      width: own,
      height: velocity / 127,
    }));
  });
}

/** Width of a note that is drawn at its true time. */
const NOTE_PX = 9;

/** Notes at their true times with their lengths, in pixels. */
export function drawnNotes(
  notes: readonly GrooveNote[],
  perTick: number,
  selected: ReadonlySet<string>,
): DrawnStroke[] {
  return notes.flatMap((note) => {
    const strokes = strokesOf(note);
    const each = (note.length * perTick) / strokes.length;
    return strokes.map(({ after, velocity }) => ({
      x: (note.tick + after) * perTick,
      width: Math.max(2, Math.min(NOTE_PX, each - 1)),
      height: velocity / 127,
      lasts: Math.max(2, each - 1),
      isChosen: selected.has(note.id),
    }));
  });
}

/** Bars, beats and steps of a groove as lines. */
export function drawnLines(groove: Groove, starts: readonly number[], step: number, perTick: number): DrawnLine[] {
  const lines: DrawnLine[] = [];
  const hasSteps = step * perTick >= LEAST_STEP_PX;
  for (let bar = 0; bar < groove.bars; bar++) {
    const [from, to] = [starts[bar] as number, starts[bar + 1] as number];
    const beat = (4 * TICKS_PER_QUARTER) / meterAt(groove, bar).beatUnit;
    lines.push({ x: from * perTick, kind: 'bar' });
    for (let tick = from + beat; tick < to; tick += beat) lines.push({ x: tick * perTick, kind: 'beat' });
    if (!hasSteps) continue;
    for (let tick = from + step; tick < to; tick += step)
      if ((tick - from) % beat !== 0) lines.push({ x: tick * perTick, kind: 'step' });
  }
  lines.push({ x: (starts[groove.bars] as number) * perTick, kind: 'bar' });
  return lines;
}
