import type { Context2D, Palette } from './canvas';
import { tintOf } from './glyph';

/** A stroke to draw: where it begins and how wide it is, in pixels of the whole groove, and how hard it is, 0 to 1. */
export interface DrawnStroke {
  readonly x: number;
  readonly width: number;
  readonly height: number;
  /** How far it lasts, where that is shown. */
  readonly lasts?: number;
  readonly isChosen?: boolean;
}

export interface DrawnRow {
  readonly family: string | null;
  /** It is not heard. */
  readonly isQuiet: boolean;
  readonly isChosen: boolean;
  /** Strokes of its notes, in any order. */
  readonly strokes: readonly DrawnStroke[];
}

/** A line of the grid, in pixels of the whole groove. */
export interface DrawnLine {
  readonly x: number;
  readonly kind: 'bar' | 'beat' | 'step';
}

export interface GrooveScene {
  readonly rows: readonly DrawnRow[];
  readonly lines: readonly DrawnLine[];
  readonly rowHeight: number;
  /** What of the whole is shown at the top left. */
  readonly left: number;
  readonly top: number;
  /** Where the groove ends. */
  readonly end: number;
  /** The stretch of the bar under work. */
  readonly under: readonly [from: number, to: number];
  /** What a hand frames to select. */
  readonly frame: { readonly x: number; readonly y: number; readonly width: number; readonly height: number } | null;
  /** The cell that keys act on. */
  readonly cell: { readonly x: number; readonly width: number; readonly row: number } | null;
}

const LEAST_HEIGHT = 5;
const ABOVE = 3;
const RADIUS = 9;

/** Draws the grid of a groove: each stroke an arch as tall as it is hard. `only` names the rows to draw; null for all. */
export function drawGroove(
  ctx: Context2D,
  scene: GrooveScene,
  width: number,
  height: number,
  palette: Palette,
  only: ReadonlySet<number> | null = null,
): void {
  if (!only) {
    drawRows(ctx, scene, width, height, palette, null);
    return;
  }
  ctx.save();
  ctx.beginPath();
  for (const r of only) ctx.rect(0, r * scene.rowHeight - scene.top - 1, width, scene.rowHeight + 1);
  ctx.clip();
  drawRows(ctx, scene, width, height, palette, only);
  ctx.restore();
}

function drawRows(
  ctx: Context2D,
  scene: GrooveScene,
  width: number,
  height: number,
  palette: Palette,
  only: ReadonlySet<number> | null,
): void {
  const { rows, lines, rowHeight, left, top, end, under, cell, frame } = scene;
  ctx.clearRect(0, 0, width, height);
  ctx.fillStyle = palette('sheet');
  ctx.fillRect(0, 0, Math.min(width, end - left), Math.min(height, rows.length * rowHeight - top));
  const first = Math.max(0, Math.floor(top / rowHeight));
  const last = Math.min(rows.length, Math.ceil((top + height) / rowHeight));
  const foot = Math.min(height, rows.length * rowHeight - top);
  ctx.fillStyle = palette('selection');
  for (let r = first; r < last; r++)
    if (rows[r]?.isChosen) ctx.fillRect(0, r * rowHeight - top, Math.min(width, end - left), rowHeight);
  ctx.globalAlpha = 0.35;
  ctx.fillRect(under[0] - left, 0, under[1] - under[0], foot);
  ctx.globalAlpha = 1;
  drawLines(ctx, lines, left, width, foot, palette);
  ctx.fillStyle = palette('line');
  for (let r = first; r <= last; r++) ctx.fillRect(0, r * rowHeight - top - 1, Math.min(width, end - left), 1);
  // A row reaches a pixel into the one above it: that one's strokes stand on the line between them.
  const isDrawn = (r: number) => !only || only.has(r) || only.has(r + 1);
  for (let r = first; r < last; r++)
    if (isDrawn(r)) drawRow(ctx, rows[r] as DrawnRow, r * rowHeight - top, scene, width, palette);
  if (cell) {
    ctx.strokeStyle = palette('verdigris');
    ctx.lineWidth = 2;
    ctx.beginPath();
    ctx.roundRect(cell.x - left + 1, cell.row * rowHeight - top + 1, Math.max(4, cell.width - 2), rowHeight - 3, 4);
    ctx.stroke();
  }
  if (frame) {
    ctx.fillStyle = palette('verdigris');
    ctx.globalAlpha = 0.15;
    ctx.fillRect(frame.x - left, frame.y - top, frame.width, frame.height);
    ctx.globalAlpha = 1;
    ctx.strokeStyle = palette('verdigris');
    ctx.lineWidth = 1;
    ctx.strokeRect(frame.x - left + 0.5, frame.y - top + 0.5, frame.width, frame.height);
  }
}

function drawLines(
  ctx: Context2D,
  lines: readonly DrawnLine[],
  left: number,
  width: number,
  foot: number,
  palette: Palette,
): void {
  for (const { x, kind } of lines) {
    if (x < left - 1 || x > left + width) continue;
    ctx.fillStyle = palette(kind === 'bar' ? 'soft' : kind === 'beat' ? 'edge' : 'line');
    ctx.globalAlpha = kind === 'bar' ? 1 : 0.55;
    ctx.fillRect(Math.round(x - left), 0, 1, foot);
  }
  ctx.globalAlpha = 1;
}

function drawRow(
  ctx: Context2D,
  { family, isQuiet, strokes }: DrawnRow,
  y: number,
  { rowHeight, left }: GrooveScene,
  width: number,
  palette: Palette,
): void {
  const colour = palette(tintOf(family));
  const base = y + rowHeight - 2;
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = colour;
  ctx.fillStyle = colour;
  for (const stroke of strokes) {
    const x = stroke.x - left;
    if (x + stroke.width < 0 || x > width) continue;
    const tall = LEAST_HEIGHT + stroke.height * (rowHeight - LEAST_HEIGHT - ABOVE);
    const radius = Math.min(RADIUS, stroke.width / 2, tall);
    ctx.beginPath();
    ctx.moveTo(x, base);
    ctx.lineTo(x, base - tall + radius);
    ctx.arcTo(x, base - tall, x + radius, base - tall, radius);
    ctx.lineTo(x + stroke.width - radius, base - tall);
    ctx.arcTo(x + stroke.width, base - tall, x + stroke.width, base - tall + radius, radius);
    ctx.lineTo(x + stroke.width, base);
    ctx.closePath();
    ctx.globalAlpha = isQuiet ? 0.08 : stroke.isChosen ? 0.85 : 0.25;
    ctx.fill();
    ctx.globalAlpha = isQuiet ? 0.35 : 1;
    ctx.stroke();
    if (stroke.lasts !== undefined) ctx.fillRect(x, base - 1, Math.max(2, stroke.lasts), 3);
  }
  ctx.globalAlpha = 1;
}
