import type { Context2D, Palette } from './canvas';
import { frameToX, rulerStep, type Span } from './span';
import { drawColumns } from './wave';

/** What is drawn of a sound being treated. Waves are pairs of lowest and highest sample, one a column of the span. */
export interface TreatedScene {
  readonly before: Float32Array | null;
  readonly after: Float32Array | null;
  readonly span: Span;
  readonly sampleRate: number;
  /** Length of the sound as it is now, and as it was, in frames. */
  readonly afterFrames: number;
  readonly beforeFrames: number;
  /** The gain in dB that the chosen step makes, one value a column; null for none. */
  readonly curve: Float32Array | null;
  /** Points of the chosen step that are dragged on the wave. */
  readonly handles: readonly HandleShown[];
}

export interface HandleShown {
  readonly frame: number;
  /** Height of the handle, 1 at the top of the wave and 0 at its bottom. */
  readonly height: number;
}

export const RULER = 18;
/** Gain in dB that is drawn at the bottom of the wave. */
export const CURVE_DB = 36;
/** Top of the curve of gain, under the ruler. */
const CURVE_TOP = 16;
const CURVE_ROOM = 24;

/** Vertical place of a gain in dB over a wave of some height, from its top. */
export function gainToY(db: number, height: number): number {
  const inRange = Math.max(-CURVE_DB, Math.min(12, db));
  return Math.max(2, CURVE_TOP - (inRange / CURVE_DB) * (height - CURVE_ROOM));
}

export function yToGain(y: number, height: number): number {
  return Math.max(-CURVE_DB, Math.min(0, -((y - CURVE_TOP) / (height - CURVE_ROOM)) * CURVE_DB));
}

/** Draws the sound as it was and as it is on one time axis, with a ruler, where it ends, and a step's gain over it. */
export function drawTreated(
  ctx: Context2D,
  scene: TreatedScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { before, after, span, afterFrames, beforeFrames, curve } = scene;
  drawRuler(ctx, scene, width, height, palette);
  ctx.save();
  ctx.translate(0, RULER);
  const room = height - RULER;
  const gain = 0.95 / Math.max(1e-6, loudest(before), loudest(after));
  const end = frameToX(span, afterFrames);
  const earlierEnd = frameToX(span, beforeFrames);
  if (before) clipped(ctx, earlierEnd, room, () => drawColumns(ctx, before, room, gain, palette('edge')));
  if (after) {
    ctx.globalAlpha = before ? 0.82 : 1;
    clipped(ctx, end, room, () => drawColumns(ctx, after, room, gain, palette('wave')));
    ctx.globalAlpha = 1;
  }
  // An outline shows the earlier shape where the sound is louder now.
  if (before && after) clipped(ctx, earlierEnd, room, () => drawOutline(ctx, before, room, gain, palette('edge')));
  ctx.fillStyle = palette('madder');
  ctx.fillRect(Math.min(width - 2, Math.round(end) - 1), 0, 2, room);
  if (curve) drawCurve(ctx, curve, Math.max(end, earlierEnd), room, palette('verdigris'));
  for (const { frame, height: up } of scene.handles)
    drawHandle(ctx, frameToX(span, frame), gainToY(-CURVE_DB * (1 - up), room), palette);
  ctx.restore();
  const label = Math.min(width - 50, end);
  ctx.font = '12px "Atkinson Hyperlegible Next Variable", sans-serif';
  ctx.fillStyle = palette('ink');
  ctx.fillText('after', Math.max(4, label - 36), height - 6);
  if (before && earlierEnd > end + 40) {
    ctx.fillStyle = palette('soft');
    ctx.fillText('before', Math.min(width - 44, label + 8), height - 6);
  }
}

function drawRuler(
  ctx: Context2D,
  { span, sampleRate }: TreatedScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { seconds: step, digits } = rulerStep(span, sampleRate, 90);
  ctx.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  const last = (span.start + width * span.framesPerPixel) / sampleRate;
  for (let n = Math.ceil(span.start / sampleRate / step); n * step <= last; n++) {
    const x = Math.round(frameToX(span, n * step * sampleRate));
    ctx.fillStyle = palette('line');
    ctx.fillRect(x, 0, 1, height);
    ctx.fillStyle = palette('soft');
    const label =
      last < 2 ? `${(n * step * 1000).toFixed(Math.max(0, digits - 3))} ms` : `${(n * step).toFixed(digits)} s`;
    ctx.fillText(label, x + 4, 12);
  }
}

/** Draws within the columns that a sound has. */
function clipped(ctx: Context2D, end: number, height: number, draw: () => void): void {
  ctx.save();
  ctx.beginPath();
  ctx.rect(0, 0, Math.max(0, end), height);
  ctx.clip();
  draw();
  ctx.restore();
}

function drawOutline(ctx: Context2D, pairs: Float32Array, height: number, gain: number, colour: string): void {
  ctx.fillStyle = colour;
  const scale = (height / 2 - 2) * gain;
  for (let x = 0; 2 * x < pairs.length; x++) {
    ctx.fillRect(x, height / 2 - (pairs[2 * x] as number) * scale - 1, 1, 1);
    ctx.fillRect(x, height / 2 - (pairs[2 * x + 1] as number) * scale, 1, 1);
  }
}

function drawCurve(ctx: Context2D, curve: Float32Array, end: number, height: number, colour: string): void {
  ctx.strokeStyle = colour;
  ctx.lineWidth = 2;
  ctx.beginPath();
  for (let x = 0; x < Math.min(curve.length, end); x++) ctx.lineTo(x, gainToY(curve[x] as number, height));
  ctx.stroke();
}

/** A handle is a small arch standing on the point that it moves. */
function drawHandle(ctx: Context2D, x: number, y: number, palette: Palette): void {
  ctx.beginPath();
  ctx.moveTo(x - 6, y + 6);
  ctx.lineTo(x - 6, y - 1);
  ctx.arc(x, y - 1, 6, Math.PI, 0);
  ctx.lineTo(x + 6, y + 6);
  ctx.closePath();
  ctx.fillStyle = palette('sheet');
  ctx.fill();
  ctx.strokeStyle = palette('verdigris');
  ctx.lineWidth = 2;
  ctx.stroke();
}

function loudest(pairs: Float32Array | null): number {
  return pairs ? pairs.reduce((most, x) => Math.max(most, Math.abs(x)), 0) : 0;
}
