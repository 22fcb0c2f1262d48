import { type Context2D, type Palette, setFigureFont } from './canvas';

/** Takes that share a range of velocity, as they are drawn. */
export interface TakeRange {
  readonly low: number;
  readonly high: number;
  readonly name: string;
  readonly takes: number;
  readonly isChosen: boolean;
}

const RULER = 14;
const MARKS = [1, 32, 64, 96, 127] as const;
/** Crown of an arch, in pixels. */
const CROWN = 10;

/** Horizontal position of a velocity: range ends lie between two of them. */
export function velocityX(velocity: number, width: number): number {
  return ((velocity - 1) / 127) * (width - 2) + 1;
}

/** The velocity at a horizontal position. */
export function velocityAt(x: number, width: number): number {
  return Math.max(1, Math.min(127, Math.floor(((x - 1) / (width - 2)) * 127) + 1));
}

/** Draws the map of takes: an arch for each range of velocity, its feet where it begins and ends. */
export function drawTakes(
  ctx: Context2D,
  ranges: readonly TakeRange[],
  width: number,
  height: number,
  palette: Palette,
  struck: number | null,
): void {
  setFigureFont(ctx);
  ctx.fillStyle = palette('soft');
  for (const mark of MARKS) {
    ctx.textAlign = mark === 1 ? 'left' : mark === 127 ? 'right' : 'center';
    ctx.fillText(String(mark), velocityX(mark === 127 ? 128 : mark, width) + (mark === 1 ? 2 : 0), RULER - 4);
  }
  for (const range of ranges) drawRange(ctx, range, width, height, palette);
  if (struck === null) return;
  ctx.fillStyle = palette('madder');
  ctx.fillRect(velocityX(struck + 0.5, width) - 1, RULER, 2, height - RULER);
}

function drawRange(ctx: Context2D, range: TakeRange, width: number, height: number, palette: Palette): void {
  const [left, right] = [velocityX(range.low, width) + 1, velocityX(range.high + 1, width) - 1];
  const crown = Math.min(CROWN, (right - left) / 2);
  ctx.beginPath();
  ctx.moveTo(left, height);
  ctx.lineTo(left, RULER + crown);
  ctx.arcTo(left, RULER, left + crown, RULER, crown);
  ctx.lineTo(right - crown, RULER);
  ctx.arcTo(right, RULER, right, RULER + crown, crown);
  ctx.lineTo(right, height);
  ctx.globalAlpha = range.isChosen ? 1 : 0.5;
  ctx.fillStyle = palette(range.isChosen ? 'selection' : 'paper');
  ctx.fill();
  ctx.globalAlpha = 1;
  ctx.strokeStyle = palette(range.isChosen ? 'verdigris' : 'edge');
  ctx.lineWidth = range.isChosen ? 2 : 1.5;
  ctx.stroke();
  ctx.textAlign = 'center';
  ctx.fillStyle = palette('ink');
  const room = right - left - 8;
  const middle = (left + right) / 2;
  ctx.fillText(fitted(ctx, range.name, room), middle, RULER + 20);
  if (range.takes > 1) {
    ctx.fillStyle = palette('soft');
    ctx.fillText(fitted(ctx, `${range.takes} takes`, room), middle, RULER + 35);
  }
}

function fitted(ctx: Context2D, text: string, room: number): string {
  if (ctx.measureText(text).width <= room) return text;
  for (let length = text.length - 1; length > 1; length--) {
    const cut = `${text.slice(0, length)}…`;
    if (ctx.measureText(cut).width <= room) return cut;
  }
  return '';
}
