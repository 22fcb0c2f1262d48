import { type RefObject, useMemo, useRef } from 'react';
import { type DrawnRow, drawGroove, type GrooveScene } from '@/picture/groove';
import { beginDrawing, useDrawing, usePalette } from '../parts/canvas';
import { drawnLines, drawnNotes, drawnStrokes, WIDEST_PX } from './drawn';
import { ROW_PX } from './measures';
import type { ShownRow } from './rows';
import type { Drafted } from './use-grid-hand';
import type { GrooveDesk } from './use-groove-desk';
import type { NoteDraft } from './use-note-hand';
import type { Scrolled } from './use-scrolled';

interface Pictured {
  readonly desk: GrooveDesk;
  readonly scrolled: Scrolled;
  /** Width of the grid beside the names. */
  readonly area: number;
  readonly perTick: number;
  readonly drafted: Drafted | null;
  readonly draft: NoteDraft | null;
}

/** What was drawn of a row, and what it was drawn from. */
interface Known {
  readonly from: readonly unknown[];
  readonly drawn: DrawnRow;
}

/** What was drawn last: where only rows have changed, only those are drawn again. */
interface Last {
  readonly scene: GrooveScene;
  readonly size: readonly unknown[];
}

/** Draws the grid when something that is seen of it has changed. */
export function useGridPicture(canvas: RefObject<HTMLCanvasElement | null>, pictured: Pictured): void {
  const { desk, scrolled, area, perTick, drafted, draft } = pictured;
  const { rows, starts, step, cell, view, selected, look } = desk;
  const { left, top, height } = scrolled;
  const palette = usePalette();
  const known = useRef(new Map<string, Known>());
  const last = useRef<Last | null>(null);
  const lines = useMemo(() => drawnLines(view.groove, starts, step, perTick), [view.groove, starts, step, perTick]);
  const end = (starts.at(-1) as number) * perTick;
  const isAnyAlone = useMemo(() => rows.some(({ rows: own }) => own.some(({ alone }) => alone)), [rows]);
  useDrawing(() => {
    if (!canvas.current || area === 0) return;
    const [from, to] = [(left - WIDEST_PX) / perTick, (left + area) / perTick];
    const first = Math.floor(top / ROW_PX);
    const seenRows = first + Math.ceil(height / ROW_PX);
    const drawn = rows.map((row, r) => {
      const isSeen = r >= first && r <= seenRows;
      const own = drafted?.row === r ? drafted : null;
      const held = draft && isTouched(draft, row, r) ? draft : null;
      const isQuiet = isSilent(row, isAnyAlone);
      const isChosen = r === cell.row;
      const basis = [row, isSeen, own, held, isQuiet, isChosen, look === 'notes' && selected, step, perTick, from, to];
      const before = known.current.get(row.key);
      if (before && isSame(before.from, basis)) return before.drawn;
      const seen = isSeen ? row.notes.filter(({ tick, length }) => tick + length >= from && tick < to) : [];
      const moved = held?.notes.flatMap((one) => (one.row === r ? [one.note] : [])) ?? [];
      const strokes =
        look === 'notes'
          ? drawnNotes([...seen.filter(({ id }) => !held?.hidden.has(id)), ...moved], perTick, selected)
          : drawnStrokes(withDraft(seen, own), step, perTick);
      const made = { family: row.family, isChosen, isQuiet, strokes };
      known.current.set(row.key, { from: basis, drawn: made });
      return made;
    });
    const under = [starts[desk.bar], starts[desk.lastBar + 1]].map((tick) => (tick as number) * perTick);
    const scene: GrooveScene = {
      ...{ rows: drawn, lines, rowHeight: ROW_PX, left, top, end },
      under: under as [number, number],
      frame: draft?.frame ?? null,
      cell: { x: cell.tick * perTick, width: step * perTick, row: cell.row },
    };
    const size = [canvas.current, area, height, palette, window.devicePixelRatio];
    const changed = last.current && isSame(last.current.size, size) ? changedRows(last.current.scene, scene) : null;
    last.current = { scene, size };
    const ctx = changed ? canvas.current.getContext('2d') : beginDrawing(canvas.current, area, height);
    if (ctx) drawGroove(ctx, scene, area, height, palette, changed);
  }, [
    rows,
    isAnyAlone,
    drafted,
    draft,
    look,
    selected,
    lines,
    left,
    top,
    area,
    height,
    palette,
    perTick,
    cell,
    step,
    desk.bar,
    desk.lastBar,
    starts,
  ]);
}

function isSame(a: readonly unknown[], b: readonly unknown[]): boolean {
  return a.length === b.length && a.every((one, i) => one === b[i]);
}

/** The rows in which two pictures differ; null where more than rows does. */
function changedRows(before: GrooveScene, now: GrooveScene): ReadonlySet<number> | null {
  const isAlike =
    isSame(
      [before.lines, before.left, before.top, before.end, ...before.under, before.frame, before.rows.length],
      [now.lines, now.left, now.top, now.end, ...now.under, now.frame, now.rows.length],
    ) && now.frame === null;
  if (!isAlike) return null;
  const changed = new Set(now.rows.flatMap((row, r) => (row === before.rows[r] ? [] : [r])));
  for (const scene of [before, now]) if (scene.cell) changed.add(scene.cell.row);
  return changed;
}

function isSilent({ pad, rows }: ShownRow, isAnyAlone: boolean): boolean {
  return !pad || rows.some(({ muted }) => muted) || (isAnyAlone && !rows.some(({ alone }) => alone));
}

/** Whether a hand on notes is at any of a row. */
function isTouched({ notes, hidden }: NoteDraft, row: ShownRow, r: number): boolean {
  return notes.some((one) => one.row === r) || (hidden.size > 0 && row.notes.some(({ id }) => hidden.has(id)));
}

function withDraft<N extends { readonly id: string }>(notes: readonly N[], drafted: Drafted | null): N[] {
  if (!drafted) return [...notes];
  const draft = { ...drafted.note, id: drafted.id ?? '' } as unknown as N;
  return [...notes.filter(({ id }) => id !== drafted.id), draft];
}
