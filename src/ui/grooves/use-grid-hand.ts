import { type PointerEvent, type RefObject, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { GrooveNote } from '@/core/groove/model';
import { MOST_ROLL, NOTE_INITIAL } from '@/core/groove/parameters';
import { stepAt } from '@/core/groove/time';
import { type GrooveDesk, noteIn } from './use-groove-desk';
import type { NoteEdits } from './use-note-edits';

/** Further than this a press is a drag. */
const DRAG_PX = 5;
/** Pixels of a drag for each step of velocity, and for each stroke of a roll. */
const VELOCITY_PX = 0.7;
const ROLL_PX = 14;
const DEFAULT_VELOCITY = 100;

interface Held {
  readonly row: number;
  readonly tick: number;
  readonly note: Stored<GrooveNote> | null;
  readonly x: number;
  readonly y: number;
  way: 'press' | 'velocity' | 'roll';
}

/** Where a hand is: a shown row, a tick, and how far down, in pixels of the whole grid. */
export interface HandPoint {
  readonly row: number;
  readonly tick: number;
  readonly y: number;
}

/** A note as it is while a hand is on it. */
export interface Drafted {
  readonly row: number;
  readonly note: Pick<GrooveNote, 'tick' | 'length' | 'velocity' | 'strokes' | 'ramp'>;
  /** The note it takes the place of; null for a new one. */
  readonly id: string | null;
  readonly way: 'velocity' | 'roll';
}

/**
 * What a hand does on the grid: a press places a note or takes it away, a drag up and down makes it harder or softer, a drag
 * outward or inward makes a roll of it. One gesture is one edit, when it is let go.
 */
export function useGridHand(
  desk: GrooveDesk,
  edits: NoteEdits,
  cellAt: (event: PointerEvent) => HandPoint | null,
): {
  readonly drafted: Drafted | null;
  readonly handlers: Record<
    'onPointerDown' | 'onPointerMove' | 'onPointerUp' | 'onPointerCancel',
    (event: PointerEvent) => void
  >;
} {
  const held: RefObject<Held | null> = useRef(null);
  const [drafted, setDrafted] = useState<Drafted | null>(null);
  const draftOf = (h: Held, event: PointerEvent): Drafted => {
    const base = h.note ?? { tick: h.tick, length: desk.step, ...NOTE_INITIAL, velocity: DEFAULT_VELOCITY };
    const { tick, length, ramp } = base;
    const velocity =
      h.way === 'velocity' ? Math.round(base.velocity + (h.y - event.clientY) / VELOCITY_PX) : base.velocity;
    const strokes = h.way === 'roll' ? base.strokes + Math.round((event.clientX - h.x) / ROLL_PX) : base.strokes;
    const note = {
      ...{ tick, length, ramp },
      velocity: Math.max(1, Math.min(127, velocity)),
      strokes: Math.max(1, Math.min(MOST_ROLL, strokes)),
    };
    return { row: h.row, note, id: h.note?.id ?? null, way: h.way === 'roll' ? 'roll' : 'velocity' };
  };
  const end = (event: PointerEvent, isKept: boolean) => {
    const h = held.current;
    held.current = null;
    setDrafted(null);
    const row = h && desk.rows[h.row];
    if (!h || !row || !isKept) return;
    if (h.way === 'press') {
      if (h.note) edits.remove(row, [h.note]);
      else edits.place(row, h.tick);
      return;
    }
    const { note } = draftOf(h, event);
    if (!h.note) edits.place(row, h.tick, note);
    else if (h.way === 'velocity') edits.harder(row, h.note, note.velocity);
    else edits.roll(row, h.note, note.strokes);
  };
  return {
    drafted,
    handlers: {
      onPointerDown: (event) => {
        const at = event.button === 0 ? cellAt(event) : null;
        if (!at || desk.isTrial) return;
        const tick = stepAt(desk.starts, at.tick, desk.step);
        desk.setCell({ row: at.row, tick });
        const note = noteIn(desk.rows[at.row], tick, desk.step, desk.starts);
        held.current = { row: at.row, tick, note, x: event.clientX, y: event.clientY, way: 'press' };
        event.currentTarget.setPointerCapture(event.pointerId);
      },
      onPointerMove: (event) => {
        const h = held.current;
        if (!h) return;
        const [dx, dy] = [Math.abs(event.clientX - h.x), Math.abs(event.clientY - h.y)];
        if (h.way === 'press' && Math.max(dx, dy) > DRAG_PX) h.way = dx > dy ? 'roll' : 'velocity';
        if (h.way !== 'press') setDrafted(draftOf(h, event));
      },
      onPointerUp: (event) => end(event, true),
      onPointerCancel: (event) => end(event, false),
    },
  };
}
