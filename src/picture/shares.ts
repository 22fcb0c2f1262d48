import type { Context2D, Palette } from './canvas';
import { setFigureFont } from './canvas';
import { drawFrequencies, drawSpectrumLine, hzToX } from './frequency';

/** Spectra of layers, and the edges between the bands that they share. */
export interface SharesScene {
  /** Level in each band of `SPECTRUM_HZ`, in dB. */
  readonly spectra: readonly Float32Array[];
  readonly edgesHz: readonly number[];
  readonly chosen: number;
}

/** Levels down to this far under the loudest band are drawn. */
const RANGE_DB = 54;
const FOOT = 16;

/** Colours of layers by their place, so that two of one family differ. */
export const LAYER_TINTS = ['slate', 'verdigris', 'madder', 'ochre', 'plum', 'umber', 'ink', 'soft'] as const;

export function drawShares(ctx: Context2D, scene: SharesScene, width: number, height: number, palette: Palette): void {
  const { spectra, edgesHz, chosen } = scene;
  const room = height - FOOT;
  setFigureFont(ctx);
  drawFrequencies(ctx, width, height, palette);
  const top = Math.max(...spectra.flatMap((spectrum) => [...spectrum]));
  for (const [n, spectrum] of spectra.entries()) {
    ctx.strokeStyle = palette(LAYER_TINTS[n % LAYER_TINTS.length] as string);
    ctx.lineWidth = n === chosen ? 3 : 1.5;
    drawSpectrumLine(ctx, spectrum, width, (db) => Math.min(room, 4 + ((top - db) / RANGE_DB) * (room - 4)));
  }
  for (const hz of edgesHz) {
    const x = Math.round(hzToX(hz, width));
    ctx.fillStyle = palette('ink');
    ctx.fillRect(x - 1, 0, 2, room);
    ctx.beginPath();
    ctx.roundRect(x - 5, room / 2 - 12, 10, 24, 4);
    ctx.fillStyle = palette('sheet');
    ctx.fill();
    ctx.strokeStyle = palette('ink');
    ctx.lineWidth = 2;
    ctx.stroke();
    ctx.fillStyle = palette('ink');
    ctx.fillText(`${Math.round(hz)} Hz`, Math.min(width - 52, x + 6), 12);
  }
}

/** A sound among others, by their spectra. */
export interface MaskingScene {
  readonly own: Float32Array;
  readonly others: readonly Float32Array[];
}

/** Draws a sound's spectrum over those of others; the strongest of these in each band is one line. */
export function drawMasking(
  ctx: Context2D,
  scene: MaskingScene,
  width: number,
  height: number,
  palette: Palette,
): void {
  const { own, others } = scene;
  const room = height - FOOT;
  setFigureFont(ctx);
  ctx.clearRect(0, 0, width, height);
  drawFrequencies(ctx, width, height, palette);
  const top = Math.max(...own, ...others.flatMap((spectrum) => [...spectrum]));
  const yOf = (db: number) => Math.min(room, 4 + ((top - db) / RANGE_DB) * (room - 4));
  ctx.lineWidth = 1;
  ctx.strokeStyle = palette('edge');
  for (const spectrum of others) drawSpectrumLine(ctx, spectrum, width, yOf);
  if (others.length > 0) {
    ctx.lineWidth = 2;
    ctx.strokeStyle = palette('madder');
    const strongest = own.map((_, band) => Math.max(...others.map((spectrum) => spectrum[band] as number)));
    drawSpectrumLine(ctx, strongest, width, yOf);
  }
  ctx.lineWidth = 3;
  ctx.strokeStyle = palette('verdigris');
  drawSpectrumLine(ctx, own, width, yOf);
}
