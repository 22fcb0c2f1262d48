import type { Context2D, Palette } from './canvas';
import { setFigureFont } from './canvas';
import { frameToX, rulerStep, type Span } from './span';
import { drawColumns } from './wave';

/** A layer's samples with the extremes of every `PAIR_FRAMES` of them, for wide views. */
export interface LaneSamples {
  readonly samples: Float32Array;
  /** Lowest and highest, interleaved. */
  readonly pairs: Float32Array;
}

/** A lane to draw. */
export interface LaneShown extends LaneSamples {
  /** Its first frame on the axis. */
  readonly offset: number;
  /** Linear; negative where its polarity is turned. */
  readonly gain: number;
  readonly tint: string;
  readonly isHeard: boolean;
  readonly isChosen: boolean;
}

export interface LanesScene {
  readonly lanes: readonly LaneShown[];
  readonly span: Span;
  readonly sampleRate: number;
  /** The frame of the axis that is told as 0: the first layer's attack. */
  readonly zero: number;
  readonly laneHeight: number;
  readonly sumHeight: number;
}

export const LANES_RULER = 18;
export const PAIR_FRAMES = 64;
/** A quiet lane is enlarged until it is drawn as if its peak were this share of the loudest one's. */
const LEAST_SHOWN = 0.1;
/** More visible frames than this are summed in steps. */
const MOST_SUMMED = 200_000;

export function laneSamples(samples: Float32Array): LaneSamples {
  const pairs = new Float32Array(2 * Math.ceil(samples.length / PAIR_FRAMES));
  for (let i = 0; i < samples.length; i++) {
    const at = 2 * Math.floor(i / PAIR_FRAMES);
    const x = samples[i] as number;
    if (x < (pairs[at] as number)) pairs[at] = x;
    if (x > (pairs[at + 1] as number)) pairs[at + 1] = x;
  }
  return { samples, pairs };
}

/** What was drawn last on a canvas: lanes that look the same stay as they are. */
export interface DrawnLanes {
  readonly of: string;
  readonly lanes: readonly string[];
  readonly samples: readonly Float32Array[];
}

/**
 * Draws the lanes on one axis, their sum beneath, and the attack across all of them; of the lanes only those that have changed
 * since `before`. Gives what `before` is for the next drawing.
 */
export function drawLanes(
  ctx: Context2D,
  scene: LanesScene,
  width: number,
  palette: Palette,
  before: DrawnLanes | null,
): DrawnLanes {
  const { lanes, span, laneHeight, sumHeight, zero } = scene;
  const bottom = LANES_RULER + lanes.length * laneHeight;
  const loudest = Math.max(1e-6, ...lanes.map(peakOf));
  const x = Math.round(frameToX(span, zero));
  const mark = (top: number, height: number) => {
    ctx.fillStyle = palette('madder');
    ctx.fillRect(x, top, 2, height);
  };
  const of = JSON.stringify([span, width, laneHeight, sumHeight, lanes.length, x, palette('ink'), palette('sheet')]);
  const isSame = before?.of === of;
  const keys = lanes.map((lane, n) => {
    const scale = 0.95 / Math.max(peakOf(lane), loudest * LEAST_SHOWN);
    const key = JSON.stringify([lane.offset, lane.gain, lane.tint, lane.isHeard, lane.isChosen, scale]);
    if (isSame && before?.lanes[n] === key && before.samples[n] === lane.samples) return key;
    const top = LANES_RULER + n * laneHeight;
    ctx.fillStyle = palette(lane.isChosen ? 'selection' : 'sheet');
    ctx.fillRect(0, top, width, laneHeight);
    ctx.fillStyle = palette('line');
    ctx.fillRect(0, top, width, 1);
    ctx.globalAlpha = lane.isHeard ? 1 : 0.3;
    at(ctx, top, () => drawWave(ctx, lane, span, width, laneHeight, scale, palette(lane.tint)));
    ctx.globalAlpha = 1;
    mark(top, laneHeight);
    return key;
  });
  ctx.fillStyle = palette('paper');
  ctx.fillRect(0, bottom, width, sumHeight);
  ctx.fillStyle = palette('ink');
  ctx.fillRect(0, bottom, width, 1);
  const sum = summed(lanes, span, width);
  const highest = sum.reduce((most, value) => Math.max(most, Math.abs(value)), loudest);
  at(ctx, bottom, () => drawColumns(ctx, sum, sumHeight, 0.95 / highest, palette('ink')));
  drawRuler(ctx, scene, width, palette);
  mark(0, LANES_RULER);
  mark(bottom, sumHeight);
  ctx.fillText('attack', x + 6, bottom + sumHeight - 6);
  return { of, lanes: keys, samples: lanes.map(({ samples }) => samples) };
}

function at(ctx: Context2D, top: number, draw: () => void): void {
  ctx.save();
  ctx.translate(0, top);
  draw();
  ctx.restore();
}

function peakOf({ pairs, gain }: LaneShown): number {
  return Math.abs(gain) * pairs.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
}

function drawWave(
  ctx: Context2D,
  { samples, pairs, offset, gain }: LaneShown,
  span: Span,
  width: number,
  height: number,
  scale: number,
  colour: string,
): void {
  const { framesPerPixel } = span;
  const isWide = framesPerPixel > 2 * PAIR_FRAMES;
  const columns = new Float32Array(2 * width);
  for (let x = 0; x < width; x++) {
    const from = Math.floor(span.start + x * framesPerPixel - offset);
    const to = Math.max(from + 1, Math.floor(span.start + (x + 1) * framesPerPixel - offset));
    const [low, high] = isWide
      ? extremesOf(pairs, 2 * Math.floor(from / PAIR_FRAMES), 2 * Math.ceil(to / PAIR_FRAMES))
      : extremesOf(samples, from, to);
    columns[2 * x] = Math.min(low * gain, high * gain);
    columns[2 * x + 1] = Math.max(low * gain, high * gain);
  }
  drawColumns(ctx, columns, height, scale, colour);
}

function extremesOf(values: Float32Array, from: number, to: number): [low: number, high: number] {
  let [low, high] = [0, 0];
  for (let i = Math.max(0, from); i < Math.min(values.length, to); i++) {
    const x = values[i] as number;
    if (x < low) low = x;
    if (x > high) high = x;
  }
  return [low, high];
}

let buffer = new Float32Array(0);

/** The extremes of the sum of the lanes that are heard, a pair a column. */
function summed(lanes: readonly LaneShown[], { start, framesPerPixel }: Span, width: number): Float32Array {
  const first = Math.floor(start);
  const frames = Math.ceil(width * framesPerPixel) + 1;
  const step = Math.max(1, Math.ceil(frames / MOST_SUMMED));
  const count = Math.ceil(frames / step);
  if (buffer.length < count) buffer = new Float32Array(count);
  buffer.fill(0, 0, count);
  for (const { samples, offset, gain, isHeard } of lanes) {
    if (!isHeard) continue;
    const shift = first - offset;
    const from = Math.max(0, Math.ceil(-shift / step));
    const to = Math.min(count, Math.ceil((samples.length - shift) / step));
    for (let i = from; i < to; i++) buffer[i] = (buffer[i] as number) + gain * (samples[shift + i * step] as number);
  }
  const columns = new Float32Array(2 * width);
  for (let x = 0; x < width; x++) {
    const from = Math.floor((start + x * framesPerPixel - first) / step);
    const to = Math.max(from + 1, Math.floor((start + (x + 1) * framesPerPixel - first) / step));
    let [low, high] = [0, 0];
    for (let i = from; i < Math.min(count, to); i++) {
      const value = buffer[i] as number;
      if (value < low) low = value;
      if (value > high) high = value;
    }
    columns[2 * x] = low;
    columns[2 * x + 1] = high;
  }
  return columns;
}

function drawRuler(ctx: Context2D, { span, sampleRate, zero }: LanesScene, width: number, palette: Palette): void {
  const { seconds, digits } = rulerStep(span, sampleRate, 90);
  ctx.fillStyle = palette('paper');
  ctx.fillRect(0, 0, width, LANES_RULER);
  setFigureFont(ctx);
  const step = seconds * sampleRate;
  for (
    let n = Math.ceil((span.start - zero) / step);
    zero + n * step <= span.start + width * span.framesPerPixel;
    n++
  ) {
    const x = Math.round(frameToX(span, zero + n * step));
    ctx.fillStyle = palette('edge');
    ctx.fillRect(x, LANES_RULER - 5, 1, 5);
    ctx.fillStyle = palette('soft');
    const label = `${n < 0 ? '−' : ''}${Math.abs(n * seconds * 1000).toFixed(Math.max(0, digits - 3))} ms`;
    ctx.fillText(label, x + 4, 12);
  }
}
