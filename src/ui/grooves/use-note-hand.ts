import { type PointerEvent, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { GrooveNote } from '@/core/groove/model';
import { NOTE_INITIAL } from '@/core/groove/parameters';
import { stepAt } from '@/core/groove/time';
import { createStore } from '../parts/store';
import { ROW_PX } from './measures';
import type { HandPoint } from './use-grid-hand';
import type { GrooveDesk } from './use-groove-desk';
import { rowIndexOf, type SelectionEdits } from './use-selection-edits';

type Note = Stored<GrooveNote>;

/** Further than this a press is a drag; this near to a note's end it is taken by that; so wide at least is a note to the hand. */
const [DRAG_PX, END_PX, WIDE_PX] = [4, 6, 12] as const;

/** Whether a hand on free ground paints notes instead of framing some. */
export const paints = createStore(false);

interface Held {
  readonly from: HandPoint;
  readonly note: Note | null;
  readonly notes: readonly Note[];
  readonly way: 'move' | 'length' | 'frame' | 'paint';
  readonly painted: Map<number, Omit<GrooveNote, 'id' | 'rowId'>>;
  isDrag: boolean;
}

/** What a hand does while it lies on the notes. */
export interface NoteDraft {
  /** Notes that are shown otherwise: where they would lie. */
  readonly notes: readonly { readonly row: number; readonly note: GrooveNote }[];
  /** Those that are not shown meanwhile. */
  readonly hidden: ReadonlySet<string>;
  readonly frame: { readonly x: number; readonly y: number; readonly width: number; readonly height: number } | null;
  readonly said: string;
}

/**
 * What a hand does on notes at their true times: a press selects, a drag moves, at the end of a note it makes it longer, on free
 * ground it frames notes, or paints them. With Control a drag copies, with Shift a press adds to what is selected.
 */
export function useNoteHand(
  desk: GrooveDesk,
  edits: SelectionEdits,
  pointAt: (event: PointerEvent) => HandPoint | null,
  perTick: number,
) {
  const held = useRef<Held | null>(null);
  const [draft, setDraft] = useState<NoteDraft | null>(null);
  const { rows, selected, setSelected, step, starts, view } = desk;

  const noteAt = ({ row, tick }: HandPoint): { note: Note; atEnd: boolean } | null => {
    const x = tick * perTick;
    for (const note of rows[row]?.notes ?? []) {
      const [from, to] = [note.tick * perTick, (note.tick + note.length) * perTick];
      if (x < from - 2 || x > Math.max(from + WIDE_PX, to + 2)) continue;
      return { note, atEnd: to - from > WIDE_PX && Math.abs(x - to) <= END_PX };
    }
    return null;
  };
  const draftOf = (h: Held, to: HandPoint, isCopy: boolean): NoteDraft => {
    const byTicks = Math.round(to.tick - h.from.tick);
    const hidden = new Set(isCopy || h.way === 'frame' ? [] : h.notes.map(({ id }) => id));
    if (h.way === 'frame') {
      const [a, b] = [h.from, to];
      const frame = {
        x: Math.min(a.tick, b.tick) * perTick,
        y: Math.min(a.y, b.y),
        width: Math.abs(a.tick - b.tick) * perTick,
        height: Math.abs(a.y - b.y),
      };
      return { notes: [], hidden, frame, said: `${framed(h, to).length} notes` };
    }
    if (h.way === 'paint') {
      const notes = [...h.painted.values()].map((note) => ({ row: h.from.row, note: { ...note, id: '', rowId: '' } }));
      return { notes, hidden, frame: null, said: `${notes.length} notes` };
    }
    const byRows = h.way === 'move' ? to.row - h.from.row : 0;
    const notes = h.notes.map((note) => ({
      row: rowIndexOf(rows, note) + byRows,
      note:
        h.way === 'move'
          ? { ...note, tick: note.tick + byTicks }
          : { ...note, length: Math.max(1, note.length + byTicks) },
    }));
    return { notes, hidden, frame: null, said: `${byTicks > 0 ? '+' : ''}${byTicks} ticks` };
  };
  const framed = (h: Held, to: HandPoint) => {
    const [low, high] = [Math.min(h.from.tick, to.tick), Math.max(h.from.tick, to.tick)];
    const [top, bottom] = [Math.min(h.from.y, to.y), Math.max(h.from.y, to.y)];
    return rows.flatMap((row, r) =>
      (r + 1) * ROW_PX < top || r * ROW_PX > bottom
        ? []
        : row.notes.filter(({ tick, length }) => tick + length > low && tick <= high),
    );
  };
  const paint = (h: Held, { tick }: HandPoint) => {
    const at = stepAt(starts, tick, step);
    const isTaken = rows[h.from.row]?.notes.some((note) => stepAt(starts, note.tick, step) === at);
    if (!isTaken && !h.painted.has(at)) h.painted.set(at, { tick: at, length: step, ...NOTE_INITIAL });
  };
  const press = (h: Held, event: PointerEvent) => {
    const { note } = h;
    if (!note) {
      setSelected(new Set());
      desk.setCell({ row: h.from.row, tick: h.from.tick });
      return;
    }
    const isMore = event.shiftKey || event.ctrlKey;
    const others = new Set(isMore ? selected : []);
    if (isMore && others.has(note.id)) others.delete(note.id);
    else others.add(note.id);
    setSelected(others);
    desk.setCell({ row: h.from.row, tick: note.tick });
  };
  const end = (event: PointerEvent, isKept: boolean) => {
    const h = held.current;
    held.current = null;
    setDraft(null);
    const to = pointAt(event);
    if (!h || !isKept) return;
    if (h.way === 'paint') {
      const row = rows[h.from.row];
      if (row && h.painted.size > 0) edits.paint(row, [...h.painted.values()]);
      return;
    }
    if (!h.isDrag || !to) return press(h, event);
    const byTicks = Math.round(to.tick - h.from.tick);
    if (h.way === 'frame') {
      const found = framed(h, to);
      const ids = found.map(({ id }) => id);
      setSelected(new Set(event.shiftKey ? [...selected, ...ids] : ids));
      const [first] = found;
      if (first) desk.setCell({ row: rowIndexOf(rows, first), tick: first.tick });
    } else if (h.way === 'length') edits.resize(h.notes, byTicks);
    else edits.move(h.notes, byTicks, to.row - h.from.row, event.ctrlKey);
  };
  return {
    draft,
    handlers: {
      onPointerDown: (event: PointerEvent) => {
        const from = event.button === 0 ? pointAt(event) : null;
        if (!from || desk.isTrial) return;
        const found = noteAt(from);
        const isChosen = found !== null && selected.has(found.note.id);
        const notes = !found ? [] : isChosen ? view.notes.filter(({ id }) => selected.has(id)) : [found.note];
        const way = found ? (found.atEnd ? 'length' : 'move') : paints.get() ? 'paint' : 'frame';
        held.current = { from, note: found?.note ?? null, notes, way, painted: new Map(), isDrag: false };
        if (way === 'paint') {
          paint(held.current, from);
          setDraft(draftOf(held.current, from, false));
        }
        event.currentTarget.setPointerCapture(event.pointerId);
      },
      onPointerMove: (event: PointerEvent) => {
        const h = held.current;
        const to = pointAt(event);
        if (!h || !to) return;
        const far = Math.max(Math.abs(to.tick - h.from.tick) * perTick, Math.abs(to.y - h.from.y));
        if (far > DRAG_PX) h.isDrag = true;
        if (h.way === 'paint') paint(h, to);
        if (h.isDrag || h.way === 'paint') setDraft(draftOf(h, to, event.ctrlKey && h.way === 'move'));
      },
      onPointerUp: (event: PointerEvent) => end(event, true),
      onPointerCancel: (event: PointerEvent) => end(event, false),
    },
  };
}
