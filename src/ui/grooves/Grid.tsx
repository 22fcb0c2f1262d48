import { memo, type PointerEvent, type RefObject, useEffect, useRef } from 'react';
import { placeOf } from '@/core/groove/time';
import { NAMES_PX, ROW_PX } from './measures';
import { player } from './player';
import { RowHead } from './RowHead';
import { type Drafted, useGridHand } from './use-grid-hand';
import { useGridPicture } from './use-grid-picture';
import type { GrooveDesk } from './use-groove-desk';
import { type NoteEdits, toldNote } from './use-note-edits';
import { useNoteHand } from './use-note-hand';
import type { Scrolled } from './use-scrolled';
import type { SelectionEdits } from './use-selection-edits';

interface GridProps {
  readonly desk: GrooveDesk;
  readonly edits: NoteEdits;
  readonly selection: SelectionEdits;
  readonly scroller: RefObject<HTMLDivElement | null>;
  readonly scrolled: Scrolled;
  readonly perTick: number;
}

/** The grid: a row a pad, its name at the left, its strokes as arches. */
export function Grid({ desk, edits, selection, scroller, scrolled, perTick }: GridProps) {
  const { rows, starts } = desk;
  const canvas = useRef<HTMLCanvasElement>(null);
  const { left, top, width, height } = scrolled;
  const end = (starts.at(-1) as number) * perTick;
  const cellAt = (event: PointerEvent) => {
    const box = canvas.current?.getBoundingClientRect();
    if (!box) return null;
    const row = Math.floor((event.clientY - box.top + top) / ROW_PX);
    const tick = (event.clientX - box.left + left) / perTick;
    const y = event.clientY - box.top + top;
    return row < rows.length && tick < (starts.at(-1) as number) ? { row, tick, y } : null;
  };
  const isNotes = desk.look === 'notes';
  const { drafted, handlers: gridHandlers } = useGridHand(desk, edits, cellAt);
  const { draft, handlers: noteHandlers } = useNoteHand(desk, selection, cellAt, perTick);
  const handlers = isNotes ? noteHandlers : gridHandlers;
  const area = Math.max(0, width - NAMES_PX);
  useGridPicture(canvas, { desk, scrolled, area, perTick, drafted, draft });
  const said = saidOf(desk);
  return (
    <div
      ref={scroller}
      data-testid="groove-grid"
      className="relative min-h-0 flex-1 overflow-auto bg-paper"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the grid takes the keys
      tabIndex={0}
      role="application"
      aria-roledescription="grid of strokes"
      aria-label={said}
    >
      <div className="relative" style={{ width: NAMES_PX + end + 24, height: rows.length * ROW_PX }}>
        <div className="sticky left-0 z-10 float-left bg-paper" style={{ width: NAMES_PX }}>
          <Names desk={desk} />
        </div>
        <canvas
          ref={canvas}
          data-testid="groove-canvas"
          className="sticky top-0 block touch-none"
          style={{ left: NAMES_PX, width: area, height }}
          {...handlers}
        />
        <Playhead perTick={perTick} isRunning={desk.isRunning} />
      </div>
      <span aria-live="polite" className="sr-only">
        {said}
      </span>
      {drafted && <Tip drafted={drafted} perTick={perTick} scrolled={scrolled} />}
      {draft && <HandSays>{draft.said}</HandSays>}
    </div>
  );
}

/** The names of the rows: drawn anew where rows or the cell have changed, not as the grid is scrolled. */
const Names = memo(function Names({ desk }: { desk: GrooveDesk }) {
  const now = useRef(desk);
  now.current = desk;
  return desk.rows.map((row, r) => <RowHead key={row.key} {...{ now, row }} isChosen={r === desk.cell.row} />);
});

/** Room for a tip at the right end. */
const TIP_PX = 120;

/** What the cell is called aloud. */
function saidOf({ view, rows, cell, note }: GrooveDesk): string {
  const row = rows[cell.row];
  if (!row) return 'No rows yet: the kit has no pads.';
  return `${row.name}, ${placeOf(view.groove, cell.tick)}: ${note ? toldNote(note) : 'empty'}`;
}

/** Says at the corner what a hand is about to do to several notes. */
function HandSays({ children }: { children: string }) {
  return (
    <span className="pointer-events-none sticky bottom-1 left-[190px] z-20 inline-block rounded bg-ink px-3 py-1 text-[12px] text-on-ink">
      {children}
    </span>
  );
}

/** Says what a drag makes. */
function Tip({ drafted, perTick, scrolled }: { drafted: Drafted; perTick: number; scrolled: Scrolled }) {
  const { note, row, way } = drafted;
  return (
    <span
      className="pointer-events-none absolute z-20 whitespace-nowrap rounded bg-ink px-3 py-1 text-[12px] text-on-ink"
      style={{
        left: Math.min(
          Math.max(NAMES_PX + scrolled.left, NAMES_PX + note.tick * perTick),
          scrolled.left + scrolled.width - TIP_PX,
        ),
        top: row * ROW_PX + (row * ROW_PX - scrolled.top < 34 ? ROW_PX + 4 : -30),
      }}
    >
      {way === 'roll'
        ? `${note.strokes} ${note.strokes === 1 ? 'stroke' : 'strokes'} ◂▸`
        : `velocity ${note.velocity} ▴▾`}
    </span>
  );
}

/** Where the groove is heard; moved by the engine's clock, without drawing anything anew. */
function Playhead({ perTick, isRunning }: { perTick: number; isRunning: boolean }) {
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!isRunning) return;
    let frame = 0;
    const move = () => {
      const tick = player.heardTick();
      if (line.current) {
        line.current.style.visibility = tick === null ? 'hidden' : 'visible';
        line.current.style.transform = `translateX(${NAMES_PX + (tick ?? 0) * perTick}px)`;
      }
      frame = requestAnimationFrame(move);
    };
    move();
    return () => cancelAnimationFrame(frame);
  }, [perTick, isRunning]);
  if (!isRunning) return null;
  return <div ref={line} aria-hidden className="pointer-events-none absolute top-0 left-0 h-full w-[2px] bg-madder" />;
}
