import { fallen, readEnvelope, STAGE_FLOATS } from '@/core/play/envelope';
import type { Context2D, Palette } from './canvas';

/** Stages of an envelope as they are stored; null where one is passed over. */
export interface Stages {
  readonly attackMs: number | null;
  readonly holdMs: number | null;
  readonly decayMs: number | null;
  readonly sustain: number | null;
  readonly releaseMs: number;
}

/** Where an envelope is drawn: time zero and pixels a millisecond, and whether it is let go. */
export interface EnvelopeView {
  readonly left: number;
  readonly perMs: number;
  readonly width: number;
  readonly height: number;
  readonly releases: boolean;
}

export type StageHandle = 'attackMs' | 'holdMs' | 'decayMs' | 'releaseMs';

/** A stage's end, which is dragged: along time, and a decay's also up and down. */
export interface Handle {
  readonly stage: StageHandle;
  readonly x: number;
  readonly y: number;
}

const TOP = 8;
/** Part of the picture that a sustain takes before it is let go. */
const HELD_SHARE = 0.14;

function levelY(value: number, height: number): number {
  return TOP + (1 - value) * (height - TOP - 3);
}

/** The value at a height of the picture, 0 to 1. */
export function valueAtY(y: number, height: number): number {
  return Math.max(0, Math.min(1, 1 - (y - TOP) / (height - TOP - 3)));
}

interface Times {
  readonly attack: number;
  readonly hold: number;
  readonly decay: number;
  readonly falls: boolean;
  readonly rest: number;
  /** When it is let go, in ms. */
  readonly letGo: number;
}

function timesOf(stages: Stages, { width, left, perMs }: EnvelopeView): Times {
  const [attack, hold, decay] = [stages.attackMs ?? 0, stages.holdMs ?? 0, stages.decayMs ?? 0];
  const falls = stages.decayMs !== null || stages.sustain !== null;
  const end = attack + hold + decay;
  const spanMs = (width - left) / perMs;
  // It is let go where there is room for it to be seen, however long it is held.
  const letGo = Math.max(end + HELD_SHARE * spanMs, Math.min(0.6 * spanMs, end + 0.4 * spanMs));
  return { attack, hold, decay, falls, rest: falls ? (stages.sustain ?? 0) : 1, letGo };
}

/** The handles of the stages that an envelope has, in order of time. */
export function envelopeHandles(stages: Stages, view: EnvelopeView): Handle[] {
  const { attack, hold, decay, falls, rest, letGo } = timesOf(stages, view);
  const at = (ms: number) => view.left + ms * view.perMs;
  const handles: Handle[] = [];
  if (stages.attackMs !== null) handles.push({ stage: 'attackMs', x: at(attack), y: levelY(1, view.height) });
  if (stages.holdMs !== null) handles.push({ stage: 'holdMs', x: at(attack + hold), y: levelY(1, view.height) });
  if (falls) handles.push({ stage: 'decayMs', x: at(attack + hold + decay), y: levelY(rest, view.height) });
  if (view.releases && rest > 0)
    handles.push({ stage: 'releaseMs', x: at(letGo + stages.releaseMs), y: levelY(0, view.height) });
  return handles;
}

/** What a handle dragged to a point sets; times are 0 and more. */
export function draggedStage(
  stages: Stages,
  view: EnvelopeView,
  stage: StageHandle,
  x: number,
  y: number,
): Partial<Stages> {
  const { attack, hold, letGo } = timesOf(stages, view);
  const ms = Math.max(0, (x - view.left) / view.perMs);
  switch (stage) {
    case 'attackMs':
      return { attackMs: ms };
    case 'holdMs':
      return { holdMs: Math.max(0, ms - attack) };
    case 'decayMs': {
      const value = valueAtY(y, view.height);
      return { decayMs: Math.max(0, ms - attack - hold), sustain: value < 0.01 ? null : value };
    }
    case 'releaseMs':
      return { releaseMs: Math.max(0, ms - letGo) };
  }
}

/** Draws an envelope over a wave as a line, with the arches of its handles; `held` is filled. */
export function drawEnvelope(
  ctx: Context2D,
  stages: Stages,
  view: EnvelopeView,
  palette: Palette,
  held: StageHandle | null,
): void {
  const { attack, hold, decay, falls, rest, letGo } = timesOf(stages, view);
  const { left, perMs, width, height } = view;
  const figures = new Float64Array(STAGE_FLOATS);
  ctx.strokeStyle = palette('verdigris');
  ctx.lineWidth = 2;
  ctx.beginPath();
  for (let x = Math.max(0, Math.floor(left)); x <= width; x++) {
    const ms = (x - left) / perMs;
    if (ms < 0) continue;
    const up = (at: number) => {
      figures.set([attack, hold, falls ? decay : -1, rest, at]);
      readEnvelope(figures, figures, 0);
      return figures[0] as number;
    };
    const value =
      view.releases && ms > letGo ? up(letGo) * fallen((ms - letGo) / Math.max(1, stages.releaseMs)) : up(ms);
    ctx.lineTo(x, levelY(value, height));
  }
  ctx.stroke();
  for (const handle of envelopeHandles(stages, view))
    drawHandle(ctx, handle.x, handle.y, palette, handle.stage === held);
}

/** A handle: an arch whose foot stands on its point. */
export function drawHandle(ctx: Context2D, x: number, y: number, palette: Palette, isHeld: boolean): void {
  ctx.beginPath();
  ctx.moveTo(x - 6, y + 7);
  ctx.lineTo(x - 6, y);
  ctx.arc(x, y, 6, Math.PI, 0);
  ctx.lineTo(x + 6, y + 7);
  ctx.closePath();
  ctx.fillStyle = palette(isHeld ? 'verdigris' : 'sheet');
  ctx.fill();
  ctx.strokeStyle = palette('verdigris');
  ctx.lineWidth = 2;
  ctx.stroke();
}
