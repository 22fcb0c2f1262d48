/** A canvas's context, on the page or in a worker. */
export type Context2D = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** The colours of the current theme, by token. */
export type Palette = (token: string) => string;

/** The tokens of the theme that pictures are drawn with. */
export const COLOURS = [
  'paper',
  'sheet',
  'ink',
  'soft',
  'line',
  'edge',
  'verdigris',
  'madder',
  'slate',
  'ochre',
  'umber',
  'plum',
  'wave',
  'selection',
] as const;

export type Colours = Readonly<Record<(typeof COLOURS)[number], string>>;

/** What a canvas starts with (HTML standard, "text styles"). */
const INITIAL_FONT = '10px sans-serif';
export const FIGURE_FONT_FAMILY = 'Atkinson Hyperlegible Mono Variable';

/** Setting a font resolves styles, which takes longer than all the drawing; a canvas keeps it until it is resized. */
export function setFigureFont(ctx: Context2D): void {
  if (ctx.font === INITIAL_FONT) ctx.font = `11px "${FIGURE_FONT_FAMILY}", monospace`;
  ctx.textBaseline = 'alphabetic';
}

/** Prepares a canvas for drawing in CSS pixels at the screen's own resolution. */
export function fitCanvas(
  canvas: HTMLCanvasElement | OffscreenCanvas,
  ctx: Context2D,
  width: number,
  height: number,
  ratio: number,
): void {
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
}
