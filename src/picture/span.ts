import { place, type Time } from './time';

/** The visible stretch of a recording. */
export interface Span {
  readonly start: number;
  readonly framesPerPixel: number;
}

/** A stretch of a recording marked by dragging, half-open, in frames. */
export interface MarkedStretch {
  readonly start: number;
  readonly end: number;
}

/** Closest view: twenty pixels a frame. */
const CLOSEST = 1 / 20;

/** Keeps a span within the recording: at most all of it, never past its ends. */
export function clampSpan(span: Span, width: number, totalFrames: number): Span {
  const widest = Math.max(CLOSEST, totalFrames / Math.max(1, width));
  const framesPerPixel = Math.min(widest, Math.max(CLOSEST, span.framesPerPixel));
  const most = Math.max(0, totalFrames - width * framesPerPixel);
  return { framesPerPixel, start: Math.min(most, Math.max(0, span.start)) };
}

export function fitAll(width: number, totalFrames: number): Span {
  return clampSpan({ start: 0, framesPerPixel: totalFrames / Math.max(1, width) }, width, totalFrames);
}

/** Shows [from, to) with a little room to both sides. */
export function fitStretch(from: number, to: number, width: number, totalFrames: number): Span {
  const room = (to - from) * 0.08;
  return clampSpan(
    { start: from - room, framesPerPixel: (to - from + 2 * room) / Math.max(1, width) },
    width,
    totalFrames,
  );
}

/** Zooms by a factor (under 1: closer) and keeps the frame at pixel `x` where it is. */
export function zoomAt(span: Span, factor: number, x: number, width: number, totalFrames: number): Span {
  const frame = span.start + x * span.framesPerPixel;
  const widest = totalFrames / Math.max(1, width);
  const framesPerPixel = Math.min(Math.max(CLOSEST, span.framesPerPixel * factor), Math.max(CLOSEST, widest));
  return clampSpan({ framesPerPixel, start: frame - x * framesPerPixel }, width, totalFrames);
}

/** Scrolls the span just far enough to show [from, to), or its start where it does not fit. */
export function reveal(span: Span, from: number, to: number, width: number, totalFrames: number): Span {
  const seen = width * span.framesPerPixel;
  const end = Math.min(to, from + seen * 0.9);
  if (from >= span.start && end <= span.start + seen) return span;
  return clampSpan({ ...span, start: from - seen * 0.15 }, width, totalFrames);
}

export function frameToX(span: Span, frame: number): number {
  return (frame - span.start) / span.framesPerPixel;
}

export function xToFrame(span: Span, x: number): number {
  return span.start + x * span.framesPerPixel;
}

const STEPS = [
  0.0001, 0.0002, 0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600,
  1800, 3600,
];

/** Seconds between the ruler's ticks, at least `leastPixels` apart, and the decimals their labels need. */
export function rulerStep(span: Span, sampleRate: number, leastPixels: number): { seconds: number; digits: number } {
  const least = (leastPixels * span.framesPerPixel) / sampleRate;
  const seconds = STEPS.find((s) => s >= least) ?? 3600;
  return { seconds, digits: Math.max(0, Math.ceil(-Math.log10(seconds) - 1e-9)) };
}

const TICK_PIXELS = 84;

/** The ruler's ticks in the chosen unit. */
export function rulerTicks(span: Span, width: number, time: Time): { frame: number; label: string }[] {
  const { unit, grid, sampleRate } = time;
  const end = span.start + width * span.framesPerPixel;
  const least = TICK_PIXELS * span.framesPerPixel;
  const ticks: { frame: number; label: string }[] = [];
  const every = (step: number, from: number, label: (n: number, frame: number) => string) => {
    for (let n = Math.ceil((span.start - from) / step - 1e-9); from + n * step <= end; n++)
      ticks.push({ frame: from + n * step, label: label(n, from + n * step) });
  };
  if (unit === 'bars' && grid) {
    const beat = ((60 / grid.tempoBpm) * sampleRate * 4) / grid.beatUnit;
    const choices = [
      0.01,
      0.02,
      0.05,
      0.1,
      0.25,
      0.5,
      1,
      grid.beats,
      ...[2, 4, 8, 16, 32, 64, 128, 256, 512, 1024].map((bars) => bars * grid.beats),
    ];
    const beats = choices.find((n) => n * beat >= least) ?? 1024 * grid.beats;
    const label = (frame: number) => place(frame + 0.5, time);
    every(beats * beat, grid.downbeatFrame, (_n, frame) =>
      beats < 1 ? label(frame) : label(frame).replace(/\.\d\d$/, ''),
    );
  } else if (unit === 'samples') {
    const power = 10 ** Math.floor(Math.log10(Math.max(1, least)));
    const step = [1, 2, 5, 10].map((k) => k * power).find((s) => s >= least) ?? 10 * power;
    every(Math.max(1, step), 0, (_n, frame) => place(frame, time));
  } else {
    const { seconds, digits } = rulerStep(span, sampleRate, TICK_PIXELS);
    every(seconds * sampleRate, 0, (n) => `${(n * seconds).toFixed(digits)} s`);
  }
  return ticks;
}
