import { PEAK_FRAMES } from '@/contract/views';
import type { GridLine } from '@/core/onset/grid';
import type { Slice } from '@/core/recording/model';
import type { Palette } from '../parts/canvas';
import { drawGlyph, tintOf } from '../parts/Glyph';
import type { WaveSource } from '../parts/wave-source';
import type { Time } from './time';
import { frameToX, rulerTicks, type Span } from './view';

/** Height of the band of arches with the ruler over it, in pixels. */
export const COLONNADE_HEIGHT = 56;
const RULER_HEIGHT = 13;
const RULER_FONT = '11px "Atkinson Hyperlegible Mono Variable", monospace';
/** What a canvas starts with (HTML standard, "text styles"). */
const INITIAL_FONT = '10px sans-serif';
const LOWEST_ARCH = 20;
/** Below this width an arch has no keystone; below the next the band shows density instead. */
export const KEYSTONE_FROM = 28;
const ARCH_FROM = 6;

export interface StageModel {
  readonly slices: readonly Slice[];
  readonly chosenId: string | null;
  /** All that are chosen, the chosen one among them. */
  readonly selected: ReadonlySet<string>;
  readonly source: WaveSource;
  readonly time: Time;
}

/** What a way of splitting shows on the wave. */
export interface SplitMarks {
  readonly lines: readonly GridLine[];
  /** Amplitude over which there is sound, 0..1; null where that is not what is split by. */
  readonly threshold: number | null;
}

/** Loudest sample of a stretch, by the stored peaks; NaN while they are being fetched. */
export function stretchPeak(source: WaveSource, start: number, end: number): number {
  const columns = Math.max(1, Math.min(32, Math.floor((end - start) / PEAK_FRAMES)));
  const values = new Float32Array(columns * 2);
  source.columns(start, Math.max(PEAK_FRAMES, (end - start) / columns), columns, values);
  let peak = 0;
  for (const value of values) if (Math.abs(value) > peak) peak = Math.abs(value);
  return peak;
}

/** The view gain that brings what is in sight to the picture's height, up to 36 dB, in steps of 3 dB so that it does not flicker. */
export function gainInSight(source: WaveSource, span: Span, width: number): number {
  const peak = stretchPeak(source, span.start, span.start + width * span.framesPerPixel);
  if (!(peak > 0)) return 1;
  return 2 ** (Math.max(0, Math.min(12, Math.floor(2 * Math.log2(0.95 / peak)))) / 2);
}

/** Height of an arch: taller where louder, from 48 dB under full scale up. */
export function archHeight(peak: number): number {
  const db = 20 * Math.log10(Math.max(peak, 1e-6));
  const tallest = COLONNADE_HEIGHT - RULER_HEIGHT - 1;
  return LOWEST_ARCH + (tallest - LOWEST_ARCH) * Math.max(0, Math.min(1, (db + 48) / 48));
}

/** The slices that touch the span, in order; slices are sorted by start but may overlap. */
export function visibleSlices<T extends Slice>(slices: readonly T[], span: Span, width: number): T[] {
  const end = span.start + width * span.framesPerPixel;
  return slices.filter((s) => s.startFrame <= end && s.endFrame >= span.start);
}

/** Middle of an arch's keystone: in the middle of what is seen of the arch, under its crown. */
export function keystoneAt(slice: Slice, height: number, span: Span, width: number): { x: number; y: number } {
  const from = Math.max(slice.startFrame, span.start);
  const to = Math.min(slice.endFrame, span.start + width * span.framesPerPixel);
  return { x: frameToX(span, (from + to) / 2), y: Math.max(12, COLONNADE_HEIGHT - height + 9) };
}

export function drawColonnade(
  ctx: CanvasRenderingContext2D,
  model: StageModel,
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
    const height = archHeight(stretchPeak(model.source, slice.startFrame, slice.endFrame));
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
}

function drawArch(
  ctx: CanvasRenderingContext2D,
  x0: number,
  x1: number,
  height: number,
  colour: string,
  chosen: boolean,
): void {
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
function drawName(
  ctx: CanvasRenderingContext2D,
  name: string,
  x0: number,
  x1: number,
  keystone: number,
  colour: string,
): void {
  const room = x1 - keystone - 14;
  if (name === '' || room < 24) return;
  ctx.save();
  ctx.beginPath();
  ctx.rect(Math.max(x0, keystone), 0, room + 10, COLONNADE_HEIGHT);
  ctx.clip();
  if (ctx.font === INITIAL_FONT) ctx.font = RULER_FONT;
  ctx.fillStyle = colour;
  ctx.fillText(name, keystone + 13, COLONNADE_HEIGHT - 8);
  ctx.restore();
}

/** A small padlock: what stays when the recording is split anew. */
function drawLock(ctx: CanvasRenderingContext2D, x: number, y: number, colour: string): void {
  ctx.fillStyle = colour;
  ctx.fillRect(x, y, 7, 6);
  ctx.strokeStyle = colour;
  ctx.lineWidth = 1.2;
  ctx.beginPath();
  ctx.arc(x + 3.5, y, 2.2, Math.PI, 0);
  ctx.stroke();
}

function drawRuler(ctx: CanvasRenderingContext2D, span: Span, width: number, time: Time, palette: Palette): void {
  // Naming a font has the page's styles resolved, which takes longer than all the drawing; a canvas keeps it until resized.
  if (ctx.font === INITIAL_FONT) ctx.font = RULER_FONT;
  ctx.fillStyle = palette('soft');
  ctx.textBaseline = 'alphabetic';
  for (const { frame, label } of rulerTicks(span, width, time)) {
    const x = Math.round(frameToX(span, frame));
    ctx.fillRect(x, 0, 1, 4);
    ctx.fillText(label, x + 4, 10);
  }
}

/** The feet of the arches as thin lines through the wave, the chosen slice's stretch, and a stretch being marked. */
export function drawFeet(
  ctx: CanvasRenderingContext2D,
  model: StageModel,
  span: Span,
  width: number,
  height: number,
  stretch: { start: number; end: number } | null,
  palette: Palette,
): void {
  const shade = (from: number, to: number, colour: string, alpha: number) => {
    const x0 = frameToX(span, from);
    ctx.globalAlpha = alpha;
    ctx.fillStyle = colour;
    ctx.fillRect(x0, 0, Math.max(1, frameToX(span, to) - x0), height);
    ctx.globalAlpha = 1;
  };
  for (const chosen of model.slices)
    if (!stretch && model.selected.has(chosen.id)) shade(chosen.startFrame, chosen.endFrame, palette('selection'), 1);
  if (stretch) shade(stretch.start, stretch.end, palette('selection'), 1);
  ctx.fillStyle = palette('line');
  ctx.fillRect(0, Math.round(height / 2), width, 1);
  const shown = visibleSlices(model.slices, span, width);
  for (const slice of shown) {
    const isChosen = slice.id === model.chosenId;
    ctx.fillStyle = isChosen ? palette('madder') : palette(tintOf(slice.family));
    ctx.globalAlpha = isChosen ? 1 : 0.55;
    ctx.fillRect(Math.round(frameToX(span, slice.startFrame)), 0, isChosen ? 2 : 1, height);
    ctx.globalAlpha = isChosen ? 0.8 : 0.22;
    ctx.fillRect(Math.round(frameToX(span, slice.endFrame)) - 1, 0, isChosen ? 2 : 1, height);
  }
  ctx.globalAlpha = 1;
}

/** The grid's lines, bars stronger than beats, and the threshold as a band about the middle. */
export function drawSplitMarks(
  ctx: CanvasRenderingContext2D,
  { lines, threshold }: SplitMarks,
  span: Span,
  width: number,
  height: number,
  gain: number,
  palette: Palette,
): void {
  const end = span.start + width * span.framesPerPixel;
  ctx.fillStyle = palette('verdigris');
  let last = Number.NEGATIVE_INFINITY;
  for (const { frame, bar, beat } of lines) {
    if (frame < span.start || frame > end) continue;
    const x = Math.round(frameToX(span, frame));
    if (x - last < (bar ? 2 : 4)) continue;
    last = x;
    ctx.globalAlpha = bar ? 0.9 : beat ? 0.5 : 0.25;
    const tall = bar ? height : beat ? 14 : 8;
    ctx.fillRect(x, 0, 1, tall);
    ctx.fillRect(x, height - (beat ? 14 : 8), 1, beat ? 14 : 8);
  }
  ctx.globalAlpha = 1;
  if (threshold === null) return;
  const away = Math.min(height / 2 - 1, threshold * (height / 2 - 2) * gain);
  ctx.globalAlpha = 0.12;
  ctx.fillRect(0, height / 2 - away, width, 2 * away);
  ctx.globalAlpha = 1;
  ctx.fillRect(0, Math.round(height / 2 - away), width, 1);
  ctx.fillRect(0, Math.round(height / 2 + away), width, 1);
}

/** The arches of the slices that are sounding, lit over the others while the recording plays. */
export function drawSounding(
  ctx: CanvasRenderingContext2D,
  slices: readonly Slice[],
  frame: number,
  span: Span,
  width: number,
  palette: Palette,
): void {
  for (const slice of slices) {
    if (slice.startFrame > frame) break;
    if (slice.endFrame <= frame) continue;
    const x0 = Math.max(-30, frameToX(span, slice.startFrame));
    const x1 = Math.min(width + 30, frameToX(span, slice.endFrame));
    if (x1 - x0 >= ARCH_FROM) drawArch(ctx, x0, x1, COLONNADE_HEIGHT - RULER_HEIGHT - 1, palette('madder'), true);
  }
}
