import type { WaveSource } from './wave-source';

/** A stretch of time on a canvas: the frame at its left edge and frames a CSS pixel. */
export interface WaveView {
  readonly start: number;
  readonly framesPerPixel: number;
  readonly width: number;
  readonly height: number;
  /** Magnifies the picture, never the sound. */
  readonly gain: number;
}

const scratch = new Float32Array(2 * 8192);

/** Draws a recording's wave: a filled band, or a line through the samples where these are further apart than a pixel. */
export function drawWave(ctx: CanvasRenderingContext2D, source: WaveSource, view: WaveView, colour: string): void {
  const { start, framesPerPixel, width, height, gain } = view;
  const middle = height / 2;
  const scale = (height / 2 - 2) * gain;
  const y = (value: number) => middle - Math.max(-1.02 * (height / 2), Math.min(1.02 * (height / 2), value * scale));
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
  source.columns(start, framesPerPixel, Math.min(width, 8192), scratch);
  // Whole-pixel rectangles one by one: a single path of a thousand of them takes the browser many times as long to fill.
  for (let x = 0; x < width; x++) {
    const low = scratch[2 * x] as number;
    const high = scratch[2 * x + 1] as number;
    if (Number.isNaN(low)) continue;
    const top = y(high);
    ctx.fillRect(x, top, 1, Math.max(1, y(low) - top));
  }
}
