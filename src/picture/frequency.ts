import { SPECTRUM_HZ } from '@/core/describe/spectrum';
import type { Context2D, Palette } from './canvas';

/** The range of pictures over frequency, in hertz. */
const LOW_HZ = 20;
const HIGH_HZ = 20_000;
/** A picture narrower than this, in pixels, names powers of ten only. */
const NARROW = 300;

export function hzToX(hz: number, width: number): number {
  return (Math.log(hz / LOW_HZ) / Math.log(HIGH_HZ / LOW_HZ)) * width;
}

export function xToHz(x: number, width: number): number {
  return LOW_HZ * (HIGH_HZ / LOW_HZ) ** Math.max(0, Math.min(1, x / width));
}

/** Lines at round frequencies, each with its name at the foot. */
export function drawFrequencies(ctx: Context2D, width: number, height: number, palette: Palette): void {
  for (const hz of [50, 100, 200, 500, 1000, 2000, 5000, 10_000]) {
    const x = Math.round(hzToX(hz, width));
    ctx.fillStyle = palette('line');
    ctx.fillRect(x, 0, 1, height);
    if (width < NARROW && Math.log10(hz) % 1 !== 0) continue;
    ctx.fillStyle = palette('soft');
    ctx.fillText(hz < 1000 ? String(hz) : `${hz / 1000} k`, x + 3, height - 4);
  }
}

/** A line through the bands of `SPECTRUM_HZ`; `yOf` places a level in dB. */
export function drawSpectrumLine(
  ctx: Context2D,
  spectrum: Float32Array,
  width: number,
  yOf: (db: number) => number,
): void {
  ctx.beginPath();
  for (const [b, db] of spectrum.entries()) ctx.lineTo(hzToX(SPECTRUM_HZ[b] as number, width), yOf(db));
  ctx.stroke();
}
