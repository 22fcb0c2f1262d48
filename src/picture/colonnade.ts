import type { Slice } from '@/core/recording/model';
import { type Context2D, type Palette, setFigureFont } from './canvas';
import { drawGlyph, tintOf } from './glyph';
import type { WaveReader } from './levelled-wave';
import { frameToX, rulerTicks, type Span } from './span';
import type { Time } from './time';
import { stretchPeak } from './wave';

/** Height of the band of arches with the ruler over it, in pixels. */
export const COLONNADE_HEIGHT = 56;
export const RULER_HEIGHT = 13;
const LOWEST_ARCH = 20;
/** Below this width an arch has no keystone; below the next the band shows density instead. */
export const KEYSTONE_FROM = 28;
const ARCH_FROM = 6;

/** A slice as drawn. */
export type SliceShown = Pick<Slice, 'startFrame' | 'endFrame' | 'family' | 'name' | 'locked'> & {
  readonly id: string;
};

export interface Colonnade {
  readonly slices: readonly SliceShown[];
  /** All that are chosen. */
  readonly selected: ReadonlySet<string>;
  /** Those that are sounding. */
  readonly sounding: ReadonlySet<string>;
  readonly time: Time;
}

/** Height of an arch: taller where louder, from 48 dB under full scale up. */
export function archHeight(peak: number): number {
  const db = 20 * Math.log10(Math.max(peak, 1e-6));
  const tallest = COLONNADE_HEIGHT - RULER_HEIGHT - 1;
  return LOWEST_ARCH + (tallest - LOWEST_ARCH) * Math.max(0, Math.min(1, (db + 48) / 48));
}

/** The slices that touch the span, in order; slices are sorted by start but may overlap. */
export function visibleSlices<T extends Pick<Slice, 'startFrame' | 'endFrame'>>(
  slices: readonly T[],
  span: Span,
  width: number,
): T[] {
  const end = span.start + width * span.framesPerPixel;
  return slices.filter((s) => s.startFrame <= end && s.endFrame >= span.start);
}

/** Middle of an arch's keystone: in the middle of the visible part of the arch, under its crown. */
export function keystoneAt(
  slice: Pick<Slice, 'startFrame' | 'endFrame'>,
  height: number,
  span: Span,
  width: number,
): { x: number; y: number } {
  const from = Math.max(slice.startFrame, span.start);
  const to = Math.min(slice.endFrame, span.start + width * span.framesPerPixel);
  return { x: frameToX(span, (from + to) / 2), y: Math.max(12, COLONNADE_HEIGHT - height + 9) };
}

/** Draws the band of arches with the ruler over it; sounding arches are tall, lit and on top. */
export function drawColonnade(
  ctx: Context2D,
  source: WaveReader,
  model: Colonnade,
  span: Span,
  width: number,
  palette: Palette,
): void {
  drawRuler(ctx, span, width, model.time, palette);
  const shown = visibleSlices(model.slices, span, width);
  const density = new Uint16Array(width + 1);
  for (const slice of shown) {
    const x0 = frameToX(span, slice.startFrame);
    const x1 = frameToX(span, slice.endFrame);
    if (x1 - x0 < ARCH_FROM) {
      const at = Math.max(0, Math.min(width, Math.round(x0)));
      density[at] = (density[at] as number) + 1;
      continue;
    }
    const chosen = model.selected.has(slice.id);
    const colour = palette(tintOf(slice.family));
    const height = archHeight(stretchPeak(source, slice.startFrame, slice.endFrame));
    drawArch(ctx, x0, x1, height, chosen ? palette('madder') : colour, chosen);
    if (x1 - x0 < KEYSTONE_FROM) continue;
    const { x, y } = keystoneAt(slice, height, span, width);
    ctx.beginPath();
    ctx.arc(x, y, 9, 0, 2 * Math.PI);
    ctx.fillStyle = palette('sheet');
    ctx.fill();
    if (chosen) {
      ctx.lineWidth = 2;
      ctx.stroke();
    }
    drawGlyph(ctx, slice.family, x, y, 13, colour);
    if (slice.locked) drawLock(ctx, x0 + 5, COLONNADE_HEIGHT - 9, colour);
    drawName(ctx, slice.name, x0, x1, x, palette('ink'));
  }
  ctx.fillStyle = palette('soft');
  for (let x = 0; x <= width; x++) {
    const n = density[x] as number;
    if (n > 0) ctx.fillRect(x, COLONNADE_HEIGHT - LOWEST_ARCH, 1, LOWEST_ARCH);
  }
  for (const slice of shown) {
    if (!model.sounding.has(slice.id)) continue;
    const x0 = Math.max(-30, frameToX(span, slice.startFrame));
    const x1 = Math.min(width + 30, frameToX(span, slice.endFrame));
    if (x1 - x0 >= ARCH_FROM) drawArch(ctx, x0, x1, COLONNADE_HEIGHT - RULER_HEIGHT - 1, palette('madder'), true);
  }
}

function drawArch(ctx: Context2D, x0: number, x1: number, height: number, colour: string, chosen: boolean): void {
  const bottom = COLONNADE_HEIGHT;
  const top = bottom - height;
  const half = (x1 - x0) / 2;
  const radius = Math.min(half, height - 2, 22);
  ctx.beginPath();
  ctx.moveTo(x0, bottom);
  ctx.lineTo(x0, top + radius);
  ctx.ellipse(x0 + radius, top + radius, radius, radius, 0, Math.PI, 1.5 * Math.PI);
  ctx.lineTo(x1 - radius, top);
  ctx.ellipse(x1 - radius, top + radius, radius, radius, 0, 1.5 * Math.PI, 2 * Math.PI);
  ctx.lineTo(x1, bottom);
  ctx.globalAlpha = chosen ? 0.32 : 0.13;
  ctx.fillStyle = colour;
  ctx.fill();
  ctx.globalAlpha = 1;
  ctx.strokeStyle = colour;
  ctx.lineWidth = chosen ? 2.4 : 1.3;
  ctx.stroke();
}

/** A name under its arch where there is room for it beside the keystone. */
function drawName(ctx: Context2D, name: string, x0: number, x1: number, keystone: number, colour: string): void {
  const room = x1 - keystone - 14;
  if (name === '' || room < 24) return;
  ctx.save();
  ctx.beginPath();
  ctx.rect(Math.max(x0, keystone), 0, room + 10, COLONNADE_HEIGHT);
  ctx.clip();
  setFigureFont(ctx);
  ctx.fillStyle = colour;
  ctx.fillText(name, keystone + 13, COLONNADE_HEIGHT - 8);
  ctx.restore();
}

/** A small padlock: the slice survives another split. */
function drawLock(ctx: Context2D, x: number, y: number, colour: string): void {
  ctx.fillStyle = colour;
  ctx.fillRect(x, y, 7, 6);
  ctx.strokeStyle = colour;
  ctx.lineWidth = 1.2;
  ctx.beginPath();
  ctx.arc(x + 3.5, y, 2.2, Math.PI, 0);
  ctx.stroke();
}

/** The ruler at the top of a picture. */
export function drawRuler(ctx: Context2D, span: Span, width: number, time: Time, palette: Palette): void {
  setFigureFont(ctx);
  ctx.fillStyle = palette('soft');
  for (const { frame, label } of rulerTicks(span, width, time)) {
    const x = Math.round(frameToX(span, frame));
    ctx.fillRect(x, 0, 1, 4);
    ctx.fillText(label, x + 4, 10);
  }
}
