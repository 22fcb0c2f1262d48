import type { Context2D, Palette } from './canvas';
import type { Span } from './span';

/** The visible window on the overview. */
export interface WindowScene {
  readonly span: Span;
  /** Width of the stage in CSS pixels. */
  readonly stageWidth: number;
  readonly totalFrames: number;
}

const LEAST_PIXELS = 4;

/** Draws it over an overview of `width` by `height` CSS pixels. */
export function drawWindow(
  ctx: Context2D,
  { span, stageWidth, totalFrames }: WindowScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const pixels = width / Math.max(1, totalFrames);
  const x = Math.min(width - LEAST_PIXELS, span.start * pixels);
  const shown = Math.min(Math.max(LEAST_PIXELS, stageWidth * span.framesPerPixel * pixels), width - x);
  ctx.clearRect(0, 0, width, height);
  ctx.strokeStyle = palette('ink');
  ctx.lineWidth = 2;
  ctx.strokeRect(x + 1, 1, shown - 2, height - 2);
}
