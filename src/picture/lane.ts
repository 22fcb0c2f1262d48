import type { Context2D, Palette } from './canvas';
import type { DrawnLine } from './groove';

/** What a lane shows, in pixels: x of the whole groove, y from 0 at the bottom to 1 at the top. */
export interface LaneScene {
  readonly lines: readonly DrawnLine[];
  /** A line through points, or a stem for each note. */
  readonly points: readonly { readonly x: number; readonly y: number }[];
  readonly kind: 'line' | 'steps' | 'stems';
  /** Where stems stand and the area ends: the value that does nothing. */
  readonly rest: number;
  /** What of the whole is shown at the left, and where the groove ends. */
  readonly left: number;
  readonly end: number;
  /** The stretch of the bars under work. */
  readonly under: readonly [from: number, to: number];
  /** Where the cell is. */
  readonly cell: number | null;
  /** Stems that are selected, by number. */
  readonly chosen: ReadonlySet<number>;
}

const [ABOVE, BELOW] = [8, 6] as const;
const POINT = 3.5;

/** Draws a lane: its value over time, on the lines of the groove. */
export function drawLane(ctx: Context2D, scene: LaneScene, width: number, height: number, palette: Palette): void {
  const { lines, points, kind, rest, left, end, under, cell } = scene;
  const yOf = (share: number) => ABOVE + (1 - share) * (height - ABOVE - BELOW);
  ctx.clearRect(0, 0, width, height);
  ctx.fillStyle = palette('sheet');
  ctx.fillRect(0, 0, Math.min(width, end - left), height);
  ctx.fillStyle = palette('selection');
  ctx.globalAlpha = 0.35;
  ctx.fillRect(under[0] - left, 0, under[1] - under[0], height);
  ctx.globalAlpha = 1;
  for (const { x, kind: of } of lines) {
    if (of === 'step' || x < left - 1 || x > left + width) continue;
    ctx.fillStyle = palette(of === 'bar' ? 'soft' : 'edge');
    ctx.globalAlpha = of === 'bar' ? 0.8 : 0.45;
    ctx.fillRect(Math.round(x - left), 0, 1, height);
  }
  ctx.globalAlpha = 1;
  ctx.strokeStyle = palette('edge');
  ctx.setLineDash([3, 3]);
  ctx.beginPath();
  ctx.moveTo(0, yOf(rest));
  ctx.lineTo(Math.min(width, end - left), yOf(rest));
  ctx.stroke();
  ctx.setLineDash([]);
  if (cell !== null) {
    ctx.fillStyle = palette('verdigris');
    ctx.fillRect(cell - left, 0, 2, height);
  }
  if (kind === 'stems') drawStems(ctx, scene, yOf, width, palette);
  else if (points.length > 0) drawCurve(ctx, scene, yOf, width, palette);
}

function drawStems(
  ctx: Context2D,
  { points, left, rest, chosen }: LaneScene,
  yOf: (share: number) => number,
  width: number,
  palette: Palette,
): void {
  for (const [i, { x, y }] of points.entries()) {
    const at = x - left;
    if (at < -POINT || at > width + POINT) continue;
    ctx.fillStyle = palette(chosen.has(i) ? 'verdigris' : 'ink');
    ctx.fillRect(at - 0.75, Math.min(yOf(y), yOf(rest)), 1.5, Math.abs(yOf(y) - yOf(rest)));
    ctx.beginPath();
    ctx.arc(at, yOf(y), POINT, 0, 2 * Math.PI);
    ctx.fill();
  }
}

function drawCurve(
  ctx: Context2D,
  { points, kind, left, rest, end }: LaneScene,
  yOf: (share: number) => number,
  width: number,
  palette: Palette,
): void {
  const first = points[0] as { x: number; y: number };
  const last = points.at(-1) as { x: number; y: number };
  const path = () => {
    ctx.moveTo(Math.max(-1, -left), yOf(first.y));
    ctx.lineTo(first.x - left, yOf(first.y));
    for (const [i, { x, y }] of points.entries()) {
      const before = points[i - 1];
      if (kind === 'steps' && before) ctx.lineTo(x - left, yOf(before.y));
      ctx.lineTo(x - left, yOf(y));
    }
    ctx.lineTo(end - left, yOf(last.y));
  };
  ctx.beginPath();
  path();
  ctx.lineTo(end - left, yOf(rest));
  ctx.lineTo(Math.max(-1, -left), yOf(rest));
  ctx.closePath();
  ctx.globalAlpha = 0.18;
  ctx.fillStyle = palette('ochre');
  ctx.fill();
  ctx.globalAlpha = 1;
  ctx.strokeStyle = palette('ochre');
  ctx.lineWidth = 2;
  ctx.beginPath();
  path();
  ctx.stroke();
  ctx.fillStyle = palette('ochre');
  for (const { x, y } of points) {
    if (x < left - POINT || x > left + width + POINT) continue;
    ctx.beginPath();
    ctx.arc(x - left, yOf(y), POINT, 0, 2 * Math.PI);
    ctx.fill();
  }
}

/** The share of a bar at a height of the lane, 0 at the bottom. */
export function shareAt(y: number, height: number): number {
  return Math.min(1, Math.max(0, 1 - (y - ABOVE) / (height - ABOVE - BELOW)));
}
