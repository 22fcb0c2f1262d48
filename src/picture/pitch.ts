import type { PitchMoment } from '@/core/describe/pitch-track';
import { hzToNote, noteToHz } from '@/core/signal/units';
import type { Context2D, Palette } from './canvas';

export interface PitchScene {
  readonly before: readonly PitchMoment[] | null;
  readonly after: readonly PitchMoment[] | null;
  /** The pitch the sound settles on, now, in hertz. */
  readonly settledHz: number | null;
  /** Name of a MIDI note. */
  readonly nameOf: (note: number) => string;
  readonly seconds: number;
}

/** Least height of the picture, in semitones. */
const LEAST_RANGE = 12;
/** Room for the names of notes at the right, in pixels. */
const NAMES = 34;

/** Draws the pitch over time before and after, with lines at notes, and the pitch it settles on. */
export function drawPitch(ctx: Context2D, scene: PitchScene, width: number, height: number, palette: Palette): void {
  const { before, after, settledHz, seconds, nameOf } = scene;
  const notes = [...(before ?? []), ...(after ?? [])].map(({ hz }) => exactNote(hz));
  if (settledHz !== null) notes.push(exactNote(settledHz));
  if (notes.length === 0) return;
  const [least, most] = [Math.min(...notes), Math.max(...notes)];
  const range = Math.max(LEAST_RANGE, most - least + 4);
  const low = (least + most - range) / 2;
  const yOf = (hz: number) => height - 16 - ((exactNote(hz) - low) / range) * (height - 22);
  const right = width - NAMES;
  const xOf = (s: number) => (s / seconds) * right;
  ctx.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  const every = range > 30 ? 12 : range > 14 ? 4 : 2;
  for (let note = Math.ceil(low / every) * every; note <= low + range; note += every) {
    const y = Math.round(yOf(noteToHz(note)));
    ctx.fillStyle = palette('line');
    ctx.fillRect(0, y, right, 1);
    ctx.fillStyle = palette('soft');
    ctx.fillText(nameOf(note), right + 5, y + 4);
  }
  if (before) drawTrack(ctx, before, xOf, yOf, palette('edge'), 4);
  if (after) drawTrack(ctx, after, xOf, yOf, palette('wave'), 2);
  if (settledHz === null) return;
  const y = Math.round(yOf(settledHz));
  ctx.fillStyle = palette('verdigris');
  ctx.fillRect(0, y - 1, right, 2);
  const { note, cents } = hzToNote(settledHz);
  const label = `settles on ${nameOf(note)} ${cents < 0 ? '−' : '+'}${Math.abs(Math.round(cents))}`;
  ctx.fillText(label, right - ctx.measureText(label).width - 6, y > 24 ? y - 6 : y + 14);
}

const exactNote = (hz: number) => 69 + 12 * Math.log2(hz / 440);

/** Moments without a pitch between others part the line. */
function drawTrack(
  ctx: Context2D,
  track: readonly PitchMoment[],
  xOf: (s: number) => number,
  yOf: (hz: number) => number,
  colour: string,
  lineWidth: number,
): void {
  ctx.strokeStyle = colour;
  ctx.fillStyle = colour;
  ctx.lineWidth = lineWidth;
  ctx.beginPath();
  for (const [i, { atS, hz }] of track.entries()) {
    const last = track[i - 1];
    const joined = last && atS - last.atS < 0.05 && Math.abs(Math.log2(hz / last.hz)) < 0.5;
    if (joined) ctx.lineTo(xOf(atS), yOf(hz));
    else ctx.moveTo(xOf(atS), yOf(hz));
    ctx.fillRect(xOf(atS) - lineWidth / 2, yOf(hz) - lineWidth / 2, lineWidth, lineWidth);
  }
  ctx.stroke();
}
