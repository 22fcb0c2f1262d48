import { PEAK_FRAMES } from '@/contract/views';
import type { Slice } from '@/core/recording/model';
import type { Palette } from '../parts/canvas';
import { drawGlyph, tintOf } from '../parts/Glyph';
import type { WaveSource } from '../parts/wave-source';
import { frameToX, rulerStep, type Span } from './view';

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
  readonly source: WaveSource;
  readonly sampleRate: number;
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
  drawRuler(ctx, span, width, model.sampleRate, palette);
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
    const chosen = slice.id === model.chosenId;
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

function drawRuler(
  ctx: CanvasRenderingContext2D,
  span: Span,
  width: number,
  sampleRate: number,
  palette: Palette,
): void {
  const { seconds, digits } = rulerStep(span, sampleRate, 84);
  // Naming a font has the page's styles resolved, which takes longer than all the drawing; a canvas keeps it until resized.
  if (ctx.font === INITIAL_FONT) ctx.font = RULER_FONT;
  ctx.fillStyle = palette('soft');
  ctx.textBaseline = 'alphabetic';
  const first = Math.ceil(span.start / sampleRate / seconds);
  for (let n = first; ; n++) {
    const x = frameToX(span, n * seconds * sampleRate);
    if (x > width) break;
    ctx.fillRect(Math.round(x), 0, 1, 4);
    ctx.fillText(`${(n * seconds).toFixed(digits)} s`, Math.round(x) + 4, 10);
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
  const chosen = model.slices.find((s) => s.id === model.chosenId);
  if (chosen && !stretch) shade(chosen.startFrame, chosen.endFrame, palette('selection'), 1);
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
