import type { Context2D, Palette } from './canvas';
import { drawFrequencies, drawSpectrumLine, hzToX } from './frequency';

/** The picture's range in dB to either side of its middle. */
const RANGE_DB = 18;
/** Spectra are drawn over this many dB under the highest. */
const SPECTRUM_DB = 60;

export interface EqualiserScene {
  readonly before: Float32Array | null;
  readonly after: Float32Array | null;
  /** Gain of all points together, in dB, at each of the picture's columns; null where no equaliser is chosen. */
  readonly response: Float32Array | null;
  readonly points: readonly PointShown[];
}

export interface PointShown {
  readonly frequencyHz: number;
  readonly gainDb: number;
  readonly active: boolean;
  readonly chosen: boolean;
}

export function dbToY(db: number, height: number): number {
  return height / 2 - (Math.max(-RANGE_DB, Math.min(RANGE_DB, db)) / RANGE_DB) * (height / 2 - 8);
}

export function yToDb(y: number, height: number): number {
  return Math.max(-RANGE_DB, Math.min(RANGE_DB, ((height / 2 - y) / (height / 2 - 8)) * RANGE_DB));
}

/** Draws a hit's spectrum before and after, and an equaliser's response with its points over it. */
export function drawEqualiser(
  ctx: Context2D,
  scene: EqualiserScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  ctx.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  drawFrequencies(ctx, width, height, palette);
  if (scene.response)
    for (const db of [-12, -6, 0, 6, 12]) {
      const y = Math.round(dbToY(db, height));
      ctx.fillStyle = palette('line');
      ctx.fillRect(0, y, width, 1);
      ctx.fillStyle = palette('soft');
      ctx.fillText(`${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`, width - 46, y - 3);
    }
  const top = Math.max(highest(scene.before), highest(scene.after));
  if (scene.before) drawSpectrum(ctx, scene.before, top, width, height, palette('edge'), 2);
  if (scene.after) drawSpectrum(ctx, scene.after, top, width, height, palette('wave'), 1.2);
  if (!scene.response) return;
  ctx.strokeStyle = palette('verdigris');
  ctx.lineWidth = 2;
  ctx.beginPath();
  for (const [x, db] of scene.response.entries()) ctx.lineTo(x, dbToY(db, height));
  ctx.stroke();
  for (const [n, point] of scene.points.entries()) drawPoint(ctx, point, n + 1, width, height, palette);
}

function drawSpectrum(
  ctx: Context2D,
  spectrum: Float32Array,
  top: number,
  width: number,
  height: number,
  colour: string,
  lineWidth: number,
): void {
  ctx.strokeStyle = colour;
  ctx.lineWidth = lineWidth;
  const yOf = (db: number) => 0.35 * height + Math.min(1, (top - db) / SPECTRUM_DB) * 0.62 * height;
  drawSpectrumLine(ctx, spectrum, width, yOf);
}

/** A point is a small arch with its number, on the curve it makes. */
function drawPoint(
  ctx: Context2D,
  point: PointShown,
  number: number,
  width: number,
  height: number,
  palette: Palette,
): void {
  const [x, y] = [hzToX(point.frequencyHz, width), dbToY(point.gainDb, height)];
  ctx.beginPath();
  ctx.moveTo(x - 8, y + 8);
  ctx.lineTo(x - 8, y - 1);
  ctx.arc(x, y - 1, 8, Math.PI, 0);
  ctx.lineTo(x + 8, y + 8);
  ctx.closePath();
  ctx.fillStyle = palette(point.chosen ? 'selection' : 'sheet');
  ctx.fill();
  ctx.strokeStyle = palette(point.active ? 'verdigris' : 'soft');
  ctx.lineWidth = 2;
  ctx.stroke();
  ctx.fillStyle = palette('ink');
  ctx.textAlign = 'center';
  ctx.fillText(String(number), x, y + 5);
  ctx.textAlign = 'start';
}

function highest(spectrum: Float32Array | null): number {
  return spectrum ? spectrum.reduce((most, db) => Math.max(most, db), -140) : -140;
}
