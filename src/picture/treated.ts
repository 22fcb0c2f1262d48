import type { Context2D, Palette } from './canvas';
import { rulerStep } from './span';
import { drawColumns } from './wave';

/** What is drawn of a hit being treated. Waves are pairs of lowest and highest sample a column, from the left edge on. */
export interface TreatedScene {
  readonly before: Float32Array | null;
  readonly after: Float32Array | null;
  /** Seconds that the width shows. */
  readonly seconds: number;
  /** Seconds of the sound as it is now, and as it was. */
  readonly afterS: number;
  readonly beforeS: number;
  /** The gain in dB that the chosen step makes, a value a column of what it works on; null for none. */
  readonly curve: Float32Array | null;
}

const RULER = 18;
/** Gain in dB that is drawn at the bottom of the wave. */
const CURVE_DB = 36;

/** Draws the sound as it was and as it is on one time axis, with a ruler, where it ends, and a step's gain over it. */
export function drawTreated(
  ctx: Context2D,
  scene: TreatedScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { before, after, seconds, afterS, beforeS, curve } = scene;
  const pixels = width / seconds;
  const { seconds: step } = rulerStep({ start: 0, framesPerPixel: seconds / width }, 1, 90);
  ctx.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  for (let t = 0; t <= seconds; t += step) {
    const x = Math.round(t * pixels);
    ctx.fillStyle = palette('line');
    ctx.fillRect(x, 0, 1, height);
    ctx.fillStyle = palette('soft');
    ctx.fillText(`${Math.round(t * 1000)} ms`, x + 4, 12);
  }
  ctx.save();
  ctx.translate(0, RULER);
  const room = height - RULER;
  const gain = 0.95 / Math.max(1e-6, loudest(before), loudest(after));
  if (before) drawColumns(ctx, before, room, gain, palette('edge'));
  if (after) {
    ctx.globalAlpha = before ? 0.82 : 1;
    drawColumns(ctx, after, room, gain, palette('wave'));
    ctx.globalAlpha = 1;
  }
  // An outline shows the earlier shape where the sound is louder now.
  if (before && after) drawOutline(ctx, before, room, gain, palette('edge'));
  ctx.fillStyle = palette('madder');
  ctx.fillRect(Math.min(width - 2, Math.round(afterS * pixels) - 1), 0, 2, room);
  if (curve) drawCurve(ctx, curve, Math.max(beforeS, afterS) * pixels, room, palette('verdigris'));
  ctx.restore();
  const end = Math.min(width - 50, afterS * pixels);
  ctx.font = '12px "Atkinson Hyperlegible Next Variable", sans-serif';
  ctx.fillStyle = palette('ink');
  ctx.fillText('after', Math.max(4, end - 36), height - 6);
  if (before && beforeS > afterS + 40 / pixels) {
    ctx.fillStyle = palette('soft');
    ctx.fillText('before', Math.min(width - 44, end + 8), height - 6);
  }
}

function drawOutline(ctx: Context2D, pairs: Float32Array, height: number, gain: number, colour: string): void {
  ctx.fillStyle = colour;
  const scale = (height / 2 - 2) * gain;
  for (let x = 0; 2 * x < pairs.length; x++) {
    ctx.fillRect(x, height / 2 - (pairs[2 * x] as number) * scale - 1, 1, 1);
    ctx.fillRect(x, height / 2 - (pairs[2 * x + 1] as number) * scale, 1, 1);
  }
}

function drawCurve(ctx: Context2D, curve: Float32Array, width: number, height: number, colour: string): void {
  ctx.strokeStyle = colour;
  ctx.lineWidth = 2;
  ctx.beginPath();
  for (let i = 0; i < curve.length; i++) {
    const db = Math.max(-CURVE_DB, Math.min(12, curve[i] as number));
    const y = 16 - (db / CURVE_DB) * (height - 24);
    ctx.lineTo((i / curve.length) * width, Math.max(2, y));
  }
  ctx.stroke();
}

function loudest(pairs: Float32Array | null): number {
  return pairs ? pairs.reduce((most, x) => Math.max(most, Math.abs(x)), 0) : 0;
}
