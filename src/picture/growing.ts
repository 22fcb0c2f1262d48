import type { Context2D, Palette } from './canvas';
import { drawRuler, RULER_HEIGHT } from './colonnade';
import { drawColumns, drawGround } from './wave';

/** Height of the band of stroke marks over the wave, in pixels, with the ruler in it. */
export const STROKES_HEIGHT = 44;
/** A mark is this wide at its foot, half of it. */
const HALF_FOOT = 5;
const LOWEST_MARK = 8;

/** A stroke as drawn. */
export interface StrokeShown {
  readonly frame: number;
  readonly peak: number;
}

/** A take while it grows. */
export interface GrowingScene {
  /** Lowest and highest sample of each column, as pairs. */
  readonly pairs: Float32Array;
  readonly columns: number;
  readonly columnFrames: number;
  readonly strokes: readonly StrokeShown[];
  /** The chosen stroke's frame. */
  readonly chosen: number | null;
  readonly frames: number;
  readonly sampleRate: number;
  /** First frame in sight, and how many. */
  readonly start: number;
  readonly length: number;
  readonly isRunning: boolean;
}

/** Frames at the left edge and in sight: all of a take that has ended, the last `seconds` of one that runs. */
export function growingSpan(
  { frames, sampleRate, isRunning }: Pick<GrowingScene, 'frames' | 'sampleRate' | 'isRunning'>,
  seconds: number,
): { start: number; length: number } {
  const least = seconds * sampleRate;
  if (!isRunning) return { start: 0, length: frames === 0 ? least : Math.max(frames, sampleRate) };
  return { start: Math.max(0, frames - least), length: least };
}

/** Draws the wave recorded so far, an arch above it for each stroke (taller for louder ones), and a line at its end. */
export function drawGrowing(
  ctx: Context2D,
  scene: GrowingScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { pairs, columns, columnFrames, start, length, frames, isRunning, sampleRate } = scene;
  const framesPerPixel = length / width;
  const waveHeight = height - STROKES_HEIGHT;
  ctx.fillStyle = palette('paper');
  ctx.fillRect(0, 0, width, STROKES_HEIGHT);
  drawRuler(ctx, { start, framesPerPixel }, width, { unit: 'seconds', sampleRate, grid: null }, palette);
  ctx.save();
  ctx.translate(0, STROKES_HEIGHT);
  drawGround(ctx, { width, height: waveHeight }, [], palette);
  const shown = new Float32Array(2 * Math.ceil(width)).fill(Number.NaN);
  for (let x = 0; x < width; x++) {
    const from = Math.floor((start + x * framesPerPixel) / columnFrames);
    const to = Math.max(from + 1, Math.floor((start + (x + 1) * framesPerPixel) / columnFrames));
    for (let n = from; n < Math.min(to, columns); n++) {
      const [low, high] = [pairs[2 * n] as number, pairs[2 * n + 1] as number];
      shown[2 * x] = Math.min(low, shown[2 * x] || low);
      shown[2 * x + 1] = Math.max(high, shown[2 * x + 1] || high);
    }
  }
  drawColumns(ctx, shown, waveHeight, gainOf(shown), palette('wave'));
  ctx.restore();
  for (const stroke of scene.strokes) {
    const x = (stroke.frame - start) / framesPerPixel;
    if (x < -HALF_FOOT || x > width + HALF_FOOT) continue;
    drawStroke(ctx, x, stroke, stroke.frame === scene.chosen, height, palette);
  }
  if (!isRunning) return;
  ctx.fillStyle = palette('madder');
  ctx.fillRect(Math.round((frames - start) / framesPerPixel), RULER_HEIGHT, 2, height - RULER_HEIGHT);
}

/** Magnifies a quiet take in steps of 6 dB, up to 24 dB, so that its wave is seen. */
function gainOf(shown: Float32Array): number {
  let peak = 0;
  for (const x of shown) if (Math.abs(x) > peak) peak = Math.abs(x);
  return peak === 0 ? 1 : 2 ** Math.max(0, Math.min(4, Math.floor(Math.log2(0.95 / peak))));
}

/** An arch, taller where louder, with a foot through the wave. */
function drawStroke(
  ctx: Context2D,
  x: number,
  { peak }: StrokeShown,
  isChosen: boolean,
  height: number,
  palette: Palette,
): void {
  const db = 20 * Math.log10(Math.max(peak, 1e-6));
  const tallest = STROKES_HEIGHT - RULER_HEIGHT - 2;
  const tall = LOWEST_MARK + (tallest - LOWEST_MARK) * Math.max(0, Math.min(1, (db + 48) / 48));
  const top = STROKES_HEIGHT - tall;
  const colour = palette(isChosen ? 'madder' : 'verdigris');
  ctx.beginPath();
  ctx.moveTo(x - HALF_FOOT, STROKES_HEIGHT);
  ctx.lineTo(x - HALF_FOOT, top + HALF_FOOT);
  ctx.arc(x, top + HALF_FOOT, HALF_FOOT, Math.PI, 2 * Math.PI);
  ctx.lineTo(x + HALF_FOOT, STROKES_HEIGHT);
  ctx.globalAlpha = isChosen ? 0.4 : 0.18;
  ctx.fillStyle = colour;
  ctx.fill();
  ctx.globalAlpha = 1;
  ctx.strokeStyle = colour;
  ctx.lineWidth = isChosen ? 2.2 : 1.3;
  ctx.stroke();
  ctx.fillStyle = colour;
  ctx.globalAlpha = isChosen ? 1 : 0.4;
  ctx.fillRect(Math.round(x), STROKES_HEIGHT, isChosen ? 2 : 1, height - STROKES_HEIGHT);
  ctx.globalAlpha = 1;
}

/** The stroke nearest to a place of the picture, in pixels; null where none is near. */
export function strokeNear(
  { strokes, start, length }: Pick<GrowingScene, 'strokes' | 'start' | 'length'>,
  x: number,
  width: number,
): number | null {
  let nearest: { frame: number; away: number } | null = null;
  for (const { frame } of strokes) {
    const away = Math.abs(((frame - start) / length) * width - x);
    if (away < 8 && (!nearest || away < nearest.away)) nearest = { frame, away };
  }
  return nearest?.frame ?? null;
}
