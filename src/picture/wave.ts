import { PEAK_FRAMES } from '@/contract/views';
import type { Context2D, Palette } from './canvas';
import type { WaveReader } from './levelled-wave';
import type { Span } from './span';

/** A stretch of time on a canvas: the frame at its left edge and frames a CSS pixel. */
export interface WaveView {
  readonly start: number;
  readonly framesPerPixel: number;
  readonly width: number;
  readonly height: number;
  /** Magnifies the picture, not the sound. */
  readonly gain: number;
  /** Frame from which on nothing is drawn; by default the recording's end. */
  readonly end?: number;
}

/** Most columns of a picture. */
const COLUMNS = 8192;
const scratch = new Float32Array(2 * COLUMNS);

/** Draws a recording's wave: a filled band, or a line where samples are further apart than a pixel. */
export function drawWave(ctx: Context2D, source: WaveReader, view: WaveView, colour: string): void {
  const { start, framesPerPixel, width, height, gain } = view;
  const y = verticalOf(height, gain);
  ctx.fillStyle = colour;
  ctx.strokeStyle = colour;
  if (framesPerPixel < 1) {
    ctx.beginPath();
    const first = Math.floor(start) - 1;
    const last = Math.ceil(start + width * framesPerPixel) + 1;
    for (let frame = first; frame <= last; frame++) {
      const value = source.sample(frame);
      const x = (frame - start) / framesPerPixel;
      if (Number.isNaN(value)) continue;
      ctx.lineTo(x, y(value));
      if (framesPerPixel < 0.15) ctx.rect(x - 1.5, y(value) - 1.5, 3, 3);
      ctx.moveTo(x, y(value));
    }
    ctx.lineWidth = 1.2;
    ctx.stroke();
    return;
  }
  const count = Math.min(width, COLUMNS);
  source.columns(start, framesPerPixel, count, scratch, view.end);
  drawColumns(ctx, scratch.subarray(0, 2 * count), height, gain, colour);
}

/** Draws a wave from the lowest and highest sample of each column, from CSS pixel `left` on. */
export function drawColumns(
  ctx: Context2D,
  pairs: Float32Array,
  height: number,
  gain: number,
  colour: string,
  left = 0,
): void {
  const y = verticalOf(height, gain);
  ctx.fillStyle = colour;
  // Whole-pixel rectangles one by one: a single path of a thousand of them takes the browser many times as long to
  // fill.
  for (let x = 0; 2 * x < pairs.length; x++) {
    const low = pairs[2 * x] as number;
    const high = pairs[2 * x + 1] as number;
    if (Number.isNaN(low)) continue;
    const top = y(high);
    ctx.fillRect(left + x, top, 1, Math.max(1, y(low) - top));
  }
}

/** Vertical position of a value: 0 in the middle, values beyond the edges clipped. */
function verticalOf(height: number, gain: number): (value: number) => number {
  const middle = height / 2;
  const scale = (middle - 2) * gain;
  return (value) => middle - Math.max(-1.02 * middle, Math.min(1.02 * middle, value * scale));
}

/** A shaded stretch of a picture's width, in CSS pixels. */
export interface Shade {
  readonly from: number;
  readonly to: number;
}

/** Columns that begin and end in each row, as linked lists: the first of a row, and for each column the next one. */
const begins = new Int16Array(COLUMNS);
const ends = new Int16Array(COLUMNS);
const nextBeginning = new Int16Array(COLUMNS);
const nextEnding = new Int16Array(COLUMNS);
const ground = new Uint32Array(COLUMNS);
const current = new Uint32Array(COLUMNS);
/** By size: few sizes are drawn again and again. */
const sheets = new Map<string, ImageData>();
const MOST_SHEETS = 4;

function pixelsFor(width: number, height: number): ImageData {
  const key = `${width} ${height}`;
  let sheet = sheets.get(key);
  if (!sheet) {
    if (sheets.size >= MOST_SHEETS) sheets.clear();
    sheet = new ImageData(width, height);
    sheets.set(key, sheet);
  }
  return sheet;
}

/** Draws the background of a wave: the sheet, the selection, and the middle line. */
export function drawGround(
  ctx: Context2D,
  { width, height }: Pick<WaveView, 'width' | 'height'>,
  shades: readonly Shade[],
  palette: Palette,
): void {
  ctx.fillStyle = palette('sheet');
  ctx.fillRect(0, 0, width, height);
  ctx.fillStyle = palette('selection');
  for (const { from, to } of shades) ctx.fillRect(from, 0, Math.max(1, to - from), height);
  ctx.fillStyle = palette('line');
  ctx.fillRect(0, Math.round(height / 2), width, 1);
}

/**
 * Draws a large wave with its background, `top` CSS pixels down an opaque canvas. A band is written pixel by pixel,
 * only as high as it reaches: faster than drawing columns, though its edges are not smoothed. Colours are `#rrggbb`.
 */
export function paintWave(
  ctx: Context2D,
  source: WaveReader,
  view: WaveView,
  top: number,
  ratio: number,
  shades: readonly Shade[],
  palette: Palette,
): void {
  if (view.width <= 0 || view.height <= 0) return;
  ctx.save();
  ctx.translate(0, top);
  drawGround(ctx, view, shades, palette);
  if (view.framesPerPixel < SMOOTH_UP_TO) drawWave(ctx, source, view, palette('wave'));
  else paintBand(ctx, source, view, top, ratio, shades, palette);
  ctx.restore();
}

/** Frames a pixel up to which a wave looks like a line, whose steps would be visible. */
const SMOOTH_UP_TO = 4;

function paintBand(
  ctx: Context2D,
  source: WaveReader,
  view: WaveView,
  top: number,
  ratio: number,
  shades: readonly Shade[],
  palette: Palette,
): void {
  const width = Math.min(COLUMNS, Math.round(view.width * ratio));
  const height = Math.min(COLUMNS, Math.round(view.height * ratio));
  source.columns(view.start, view.framesPerPixel / ratio, width, scratch);
  const y = verticalOf(height, view.gain);
  let highest = height;
  let lowest = -1;
  begins.fill(-1, 0, height);
  ends.fill(-1, 0, height);
  for (let x = 0; x < width; x++) {
    const low = scratch[2 * x] as number;
    if (Number.isNaN(low)) continue;
    const first = Math.min(height - 1, Math.max(0, Math.round(y(scratch[2 * x + 1] as number))));
    const last = Math.min(height - 1, Math.max(first, Math.round(y(low)) - 1));
    nextBeginning[x] = begins[first] as number;
    begins[first] = x;
    nextEnding[x] = ends[last] as number;
    ends[last] = x;
    if (first < highest) highest = first;
    if (last > lowest) lowest = last;
  }
  if (lowest < highest) return;
  const pixels = pixelsFor(width, height);
  const out = new Uint32Array(pixels.data.buffer);
  ground.fill(pixelOf(palette('sheet')), 0, width);
  for (const { from, to } of shades) {
    const first = Math.max(0, Math.round(from * ratio));
    ground.fill(pixelOf(palette('selection')), first, Math.max(first + 1, Math.round(to * ratio)));
  }
  const colour = pixelOf(palette('wave'));
  const middle = Math.round(view.height / 2) * ratio;
  const line = pixelOf(palette('line'));
  // A row equals the one above it except for columns that begin or end there, so each pixel costs only a copy.
  const row = current.subarray(0, width);
  row.set(ground.subarray(0, width));
  for (let r = highest; r <= lowest; r++) {
    for (let x = begins[r] as number; x >= 0; x = nextBeginning[x] as number) row[x] = colour;
    const at = r * width;
    out.set(row, at);
    if (r >= middle && r < middle + ratio) for (let x = 0; x < width; x++) if (row[x] !== colour) out[at + x] = line;
    for (let x = ends[r] as number; x >= 0; x = nextEnding[x] as number) row[x] = ground[x] as number;
  }
  ctx.putImageData(pixels, 0, Math.round(top * ratio), 0, highest, width, lowest - highest + 1);
}

const known = new Map<string, number>();

/** A colour `#rrggbb` as a pixel of image data, in the byte order of all machines that browsers run on. */
function pixelOf(colour: string): number {
  let pixel = known.get(colour);
  if (pixel === undefined) {
    const rgb = Number.parseInt(colour.slice(1), 16);
    pixel = (0xff000000 | ((rgb & 0xff) << 16) | (rgb & 0xff00) | (rgb >> 16)) >>> 0;
    known.set(colour, pixel);
  }
  return pixel;
}

/** Peak of a stretch, from the stored peaks; NaN while they are being fetched. */
export function stretchPeak(source: WaveReader, start: number, end: number): number {
  const columns = Math.max(1, Math.min(32, Math.floor((end - start) / PEAK_FRAMES)));
  source.columns(start, Math.max(PEAK_FRAMES, (end - start) / columns), columns, scratch);
  let peak = 0;
  for (let i = 0; i < 2 * columns; i++) peak = Math.max(peak, Math.abs(scratch[i] as number));
  return peak;
}

/**
 * The view gain that fills the picture's height with the visible stretch, up to 36 dB, in steps of 3 dB to avoid
 * flicker.
 */
export function gainInSight(source: WaveReader, span: Span, width: number): number {
  const peak = stretchPeak(source, span.start, span.start + width * span.framesPerPixel);
  if (!(peak > 0)) return 1;
  return 2 ** (Math.max(0, Math.min(12, Math.floor(2 * Math.log2(0.95 / peak)))) / 2);
}
