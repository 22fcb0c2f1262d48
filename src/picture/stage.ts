import type { GridLine } from '@/core/onset/grid';
import type { MarkChanges } from '@/core/onset/marks';
import { type Context2D, type Palette, setFigureFont } from './canvas';
import { COLONNADE_HEIGHT, type Colonnade, drawColonnade, visibleSlices } from './colonnade';
import { tintOf } from './glyph';
import { levelledWave, type ShownLevel, type WaveReader } from './levelled-wave';
import { frameToX, type MarkedStretch, type Span } from './span';
import { gainInSight, paintWave, type Shade } from './wave';

/** Marks of a way of splitting on the wave. */
export interface SplitMarks {
  readonly lines: readonly GridLine[];
  /** Amplitude threshold, 0..1; null where it is not split at silence. */
  readonly threshold: number | null;
}

/** The content of the stage: the colonnade over the wave. */
export interface StageScene extends Colonnade {
  readonly span: Span;
  readonly chosenId: string | null;
  readonly marks: SplitMarks;
  /** A stretch being marked. */
  readonly stretch: MarkedStretch | null;
  /** View gain; 0 for automatic. */
  readonly gain: number;
  /** Parts that are shown with the level they will have. */
  readonly levels: readonly ShownLevel[];
}

export const NO_SCENE: StageScene = {
  span: { start: 0, framesPerPixel: 1 },
  slices: [],
  selected: new Set(),
  sounding: new Set(),
  time: { unit: 'seconds', sampleRate: 1, grid: null },
  chosenId: null,
  marks: { lines: [], threshold: null },
  stretch: null,
  gain: 1,
  levels: [],
};

/** Slices with dragged edges at their draft positions. */
export function withHeld<T extends { readonly id: string }>(
  slices: readonly T[],
  held: MarkChanges | null,
): readonly T[] {
  if (!held || held.update.length === 0) return slices;
  const sets = new Map(held.update.map((u) => [u.id, u.set]));
  return slices.map((s) => (sets.has(s.id) ? { ...s, ...sets.get(s.id) } : s));
}

/** Draws all of it on an opaque canvas of `width` by `height` CSS pixels of `ratio` device pixels each. */
export function drawStage(
  ctx: Context2D,
  raw: WaveReader,
  wanted: StageScene,
  held: MarkChanges | null,
  width: number,
  height: number,
  ratio: number,
  palette: Palette,
): void {
  const scene = { ...wanted, slices: withHeld(wanted.slices, held) };
  const { span, marks } = scene;
  const source = levelledWave(raw, scene.levels);
  const gain = scene.gain === 0 ? gainInSight(source, span, width) : scene.gain;
  const waveHeight = Math.max(0, height - COLONNADE_HEIGHT);
  ctx.fillStyle = palette('paper');
  ctx.fillRect(0, 0, width, COLONNADE_HEIGHT);
  drawColonnade(ctx, source, scene, span, width, palette);
  const view = { ...span, width, height: waveHeight, gain };
  paintWave(ctx, source, view, COLONNADE_HEIGHT, ratio, shadesOf(scene), palette);
  ctx.save();
  ctx.translate(0, COLONNADE_HEIGHT);
  drawFeet(ctx, scene, span, width, waveHeight, palette);
  drawSplitMarks(ctx, marks, span, width, waveHeight, gain, palette);
  ctx.restore();
}

/** The chosen stretch, or the one being marked, in pixels. */
function shadesOf({ slices, selected, stretch, span }: StageScene): Shade[] {
  const shade = (from: number, to: number): Shade => ({ from: frameToX(span, from), to: frameToX(span, to) });
  if (stretch) return [shade(stretch.start, stretch.end)];
  return slices.filter((s) => selected.has(s.id)).map((s) => shade(s.startFrame, s.endFrame));
}

/** Below this width of a slice in pixels its feet would overlap. */
const FOOT_FROM = 3;

/** The feet of the arches as thin lines over the wave. */
function drawFeet(
  ctx: Context2D,
  scene: StageScene,
  span: Span,
  width: number,
  height: number,
  palette: Palette,
): void {
  const shown = visibleSlices(scene.slices, span, width);
  for (const slice of shown) {
    const isChosen = slice.id === scene.chosenId;
    if (!isChosen && (slice.endFrame - slice.startFrame) / span.framesPerPixel < FOOT_FROM) continue;
    ctx.fillStyle = isChosen ? palette('madder') : palette(tintOf(slice.family));
    ctx.globalAlpha = isChosen ? 1 : 0.55;
    ctx.fillRect(Math.round(frameToX(span, slice.startFrame)), 0, isChosen ? 2 : 1, height);
    ctx.globalAlpha = isChosen ? 0.8 : 0.22;
    ctx.fillRect(Math.round(frameToX(span, slice.endFrame)) - 1, 0, isChosen ? 2 : 1, height);
  }
  ctx.globalAlpha = 1;
}

/** The grid's lines, bars stronger than beats, and the threshold as a band about the middle. */
function drawSplitMarks(
  ctx: Context2D,
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
  const downbeat = lines[0];
  if (downbeat) drawDownbeat(ctx, frameToX(span, downbeat.frame), height, palette);
  if (threshold === null) return;
  ctx.fillStyle = palette('verdigris');
  const away = Math.min(height / 2 - 1, threshold * (height / 2 - 2) * gain);
  ctx.globalAlpha = 0.12;
  ctx.fillRect(0, height / 2 - away, width, 2 * away);
  ctx.globalAlpha = 1;
  ctx.fillRect(0, Math.round(height / 2 - away), width, 1);
  ctx.fillRect(0, Math.round(height / 2 + away), width, 1);
}

/** The handle of the first downbeat. */
function drawDownbeat(ctx: Context2D, x: number, height: number, palette: Palette): void {
  setFigureFont(ctx);
  const words = '1st bar';
  const width = ctx.measureText(words).width + 10;
  const left = Math.max(0, x - width / 2);
  ctx.globalAlpha = 1;
  ctx.fillStyle = palette('verdigris');
  ctx.beginPath();
  ctx.roundRect(left, height - 18, width, 18, [4, 4, 0, 0]);
  ctx.fill();
  ctx.fillStyle = palette('sheet');
  ctx.fillText(words, left + 5, height - 5);
}
