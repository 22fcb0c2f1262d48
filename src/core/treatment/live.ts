import { MAX_POINTS } from '../live/limits';
import { choice, list, type Parameters, type Values } from '../parameter/parameter';
import { filled } from '../parameter/values';
import { PERIODS } from '../signal/periods';
import { compressor } from './compressor';
import { echo } from './echo';
import { equaliser, POINT } from './equaliser';
import { mix } from './mix';
import { room } from './room';
import { saturation } from './saturation';
import type { Step } from './step';

// What cannot be known of a sound that runs on is left out; each has a share of the sound, those that have none of their own too.

const { lookAheadMs: _lookAhead, ...compressing } = compressor.parameters;
const MIX = mix(1, 0.05);

/** Where a kit has a tempo, an echo may follow it. */
const PERIOD = choice(
  'In time',
  [['ms', 'in milliseconds'], ...PERIODS.map(([, label]) => [label, label] as const)],
  'ms',
  'time of the echo',
);

/** The processors that can run on what is played: their parameters there. */
export const LIVE_PARAMETERS = {
  equaliser: { points: list('Points', POINT, MAX_POINTS), mix: MIX },
  compressor: compressing,
  saturation: saturation.parameters,
  room: room.parameters,
  echo: { period: PERIOD, ...echo.parameters },
} as const;

export type LiveName = keyof typeof LIVE_PARAMETERS;
export const LIVE_NAMES = Object.keys(LIVE_PARAMETERS) as [LiveName, ...LiveName[]];
/** What each is called, and what it does. */
export const LIVE_PROCESSORS = { equaliser, compressor, saturation, room, echo } as const;

export function isLive(name: unknown): name is LiveName {
  return typeof name === 'string' && Object.hasOwn(LIVE_PARAMETERS, name);
}

/** A step that runs on what is played. */
export type LiveStep = Step & { readonly processor: LiveName };
/** One that runs on what a pad plays, or a bus gets. */
export type PadStep = LiveStep & { readonly padId: string };
export type BusStep = LiveStep & { readonly busId: string };

/** The values of a live step's parameters. */
export function liveValues<N extends LiveName>(
  step: Step & { readonly processor: N },
): Values<(typeof LIVE_PARAMETERS)[N]> {
  return filled(LIVE_PARAMETERS[step.processor] as Parameters, step) as Values<(typeof LIVE_PARAMETERS)[N]>;
}
