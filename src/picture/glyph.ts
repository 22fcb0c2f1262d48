import type { Family } from '@/core/family';
import type { Context2D } from './canvas';

/** Colour token of each family; the glyph differs too, so that colour is never the only sign. */
export const FAMILY_TINT: Readonly<Record<Family, string>> = {
  kick: 'slate',
  tom: 'umber',
  snare: 'madder',
  rim: 'madder',
  clap: 'madder',
  'closed hat': 'ochre',
  'open hat': 'ochre',
  cymbal: 'verdigris',
  percussion: 'plum',
  tonal: 'plum',
  voice: 'plum',
  effect: 'plum',
};

export function tintOf(family: string | null): string {
  return FAMILY_TINT[family as Family] ?? 'soft';
}

/** The glyphs as path data on a grid of 16, one stroke weight; the one solid form is the kick's. */
const PATHS: Readonly<Record<Family, string>> = {
  kick: 'M2.5 8a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0',
  tom: 'M2.5 8a5.5 5.5 0 1 0 11 0a5.5 5.5 0 1 0-11 0',
  snare: 'M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M3 6.3h10M3 9.7h10',
  rim: 'M7 4a4.8 4.8 0 1 0 4.8 4.8M8 8l6-6',
  clap: 'M4 13l4-10M9 13l4-10',
  'closed hat': 'M2 6.2h12M2 9.8h12',
  'open hat': 'M2 11h12M2 8l11.5-4.5',
  cymbal: 'M2.29 9.85A6 2.8 -18 1 0 13.71 6.15A6 2.8 -18 1 0 2.29 9.85',
  percussion: 'M8 2.8L13.5 13h-11z',
  tonal: 'M1.5 8c2.2-6.5 4.3-6.5 6.5 0s4.3 6.5 6.5 0',
  voice: 'M12.6 5A5.5 5.5 0 1 0 13.5 8',
  effect: 'M8 1.5v4M8 10.5v4M1.5 8h4M10.5 8h4',
};
const UNKNOWN = 'M6.4 8a1.6 1.6 0 1 0 3.2 0a1.6 1.6 0 1 0-3.2 0';
export const STROKE = 1.6;

/** How a family is drawn: path data, and whether it is a solid form rather than a line. */
export function glyphOf(family: string | null): { path: string; solid: boolean } {
  return { path: PATHS[family as Family] ?? UNKNOWN, solid: family === 'kick' || !(family && family in PATHS) };
}

const drawn = new Map<string, Path2D>();

/** Draws the same glyph on a canvas, `size` pixels wide around (x, y). */
export function drawGlyph(
  ctx: Context2D,
  family: string | null,
  x: number,
  y: number,
  size: number,
  colour: string,
): void {
  const { path, solid } = glyphOf(family);
  let shape = drawn.get(path);
  if (!shape) {
    shape = new Path2D(path);
    drawn.set(path, shape);
  }
  ctx.save();
  ctx.translate(x - size / 2, y - size / 2);
  ctx.scale(size / 16, size / 16);
  ctx.fillStyle = colour;
  ctx.strokeStyle = colour;
  ctx.lineWidth = STROKE;
  if (solid) ctx.fill(shape);
  else ctx.stroke(shape);
  ctx.restore();
}
