import type { MarkChanges } from '@/core/onset/marks';
import type { Context2D, Palette } from './canvas';
import { frameToX, type Span } from './span';
import { withHeld } from './stage';
import { drawGround, drawWave } from './wave';
import type { WaveSource } from './wave-source';

/** Draws a slice's start or end, magnified. */
export interface LoupeScene {
  readonly edge: 'start' | 'end';
  readonly span: Span;
  readonly slice: { readonly id: string; readonly startFrame: number; readonly endFrame: number };
  readonly gain: number;
}

/** Pixels of the slice's start and end in a loupe, clipped just outside it. */
export function edgesShown({ slice, span }: LoupeScene, held: MarkChanges | null, width: number): [number, number] {
  const { startFrame, endFrame } = { ...slice, ...withHeld([slice], held)[0] };
  const within = (frame: number) => Math.max(-10, Math.min(width + 10, frameToX(span, frame)));
  return [within(startFrame), within(endFrame)];
}

/** Draws it, with a dragged edge at its draft position, on an opaque canvas of `width` by `height` CSS pixels. */
export function drawLoupe(
  ctx: Context2D,
  source: WaveSource,
  scene: LoupeScene,
  held: MarkChanges | null,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { edge, span, gain } = scene;
  const [x0, x1] = edgesShown(scene, held, width);
  drawGround(ctx, { width, height }, [{ from: x0, to: x1 }], palette);
  drawWave(ctx, source, { ...span, width, height, gain }, palette('wave'));
  const x = edge === 'start' ? x0 : x1;
  ctx.fillStyle = palette('madder');
  ctx.fillRect(x - 1, 0, 2, height);
  ctx.beginPath();
  ctx.moveTo(x - 6, 0);
  ctx.lineTo(x + 6, 0);
  ctx.lineTo(x, 8);
  ctx.fill();
}
