/** What stretch of a recording the page shows. */
export interface Span {
  readonly start: number;
  readonly framesPerPixel: number;
}

/** A stretch of a recording that is being marked by dragging, half-open, in frames. */
export interface MarkedStretch {
  readonly start: number;
  readonly end: number;
}

/** Closest view: twenty pixels a frame. */
const CLOSEST = 1 / 20;

/** Keeps a span within the recording: never further out than all of it, never past its ends. */
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

/** The span scrolled just so far that [from, to) is seen, or its start where it does not fit. */
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
