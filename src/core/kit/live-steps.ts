import { poleOf } from '../dynamics/followers';
import { DC_CUTOFF_HZ } from '../filter/dc-blocker';
import {
  CHARACTER_NAMES,
  OPEN,
  SECTION_FLOATS,
  SECTIONS,
  STEP_KINDS,
  type StepKind,
  type StepSound,
  toneOf,
} from '../live/figures';
import { POINT_SECTIONS } from '../live/limits';
import { roomLayout } from '../live/room-size';
import { roomFrames } from '../room/size';
import { periodSeconds } from '../signal/periods';
import { fromDb } from '../signal/units';
import { type LiveName, type LiveStep, liveValues } from '../treatment/live';
import { sectionsOf } from '../treatment/process/equaliser';

/** What a step has in sample memory - a room's response, an echo's line: its first float, and how many frames it has. */
export interface Laid {
  readonly at: number;
  readonly frames: number;
}

/** Time over which a compressor that follows loudness takes the mean square, as in treatments. */
const POWER_MS = 5;

/** The longest echo, whatever the tempo. */
const LONGEST_ECHO_S = 4;

/** Frames of what a step has in memory; 0 for those that need none. */
export function laidFrames(step: LiveStep, rate: number, tempoBpm: number): number {
  if (step.processor === 'room') return roomFrames(liveValues(step as OfStep<'room'>), rate);
  if (step.processor !== 'echo') return 0;
  const { period, timeMs } = liveValues(step as OfStep<'echo'>);
  const seconds = periodSeconds(period, tempoBpm) ?? timeMs / 1000;
  return Math.max(1, Math.round(Math.min(LONGEST_ECHO_S, seconds) * rate));
}

/** Floats that so many frames of it take. */
export function laidFloats(step: LiveStep, frames: number): number {
  return step.processor === 'room' ? roomLayout(frames).floats : 2 * frames;
}

type OfStep<N extends LiveName> = LiveStep & { readonly processor: N };
type Compiled = Pick<StepSound, 'form' | 'length' | 'mix' | 'figures'>;

/**
 * A pad's steps as the engine runs them at a rate, in their order. `laidOf` gives what a step has in memory; those whose
 * room or line is not there yet are switched off.
 */
export function liveSteps(
  steps: readonly LiveStep[],
  rate: number,
  laidOf: (step: LiveStep) => Laid | null,
): StepSound[] {
  return steps.map((step) => {
    const compiled = compile(step, rate, laidOf);
    const kind = STEP_KINDS.indexOf(step.processor satisfies StepKind);
    return compiled
      ? { kind, on: step.active ? 1 : 0, ...compiled }
      : { kind: 0, form: 0, length: 0, on: 0, mix: 0, figures: [] };
  });
}

function compile(step: LiveStep, rate: number, laidOf: (step: LiveStep) => Laid | null): Compiled | null {
  switch (step.processor) {
    case 'equaliser':
      return equaliser(step as OfStep<'equaliser'>, rate);
    case 'compressor':
      return compressor(step as OfStep<'compressor'>, rate);
    case 'saturation':
      return saturation(step as OfStep<'saturation'>, rate);
    case 'room': {
      const laid = laidOf(step);
      const { mix } = liveValues(step as OfStep<'room'>);
      return laid && { form: laid.at, length: laid.frames, mix, figures: [] };
    }
    case 'echo': {
      const laid = laidOf(step);
      const { mix, feedback, toneHz, sides } = liveValues(step as OfStep<'echo'>);
      const crosses = sides === 'to-and-fro' ? 1 : 0;
      return (
        laid && { form: laid.at, length: 2 * laid.frames + crosses, mix, figures: [feedback, toneOf(toneHz, rate)] }
      );
    }
  }
}

function equaliser(step: OfStep<'equaliser'>, rate: number): Compiled {
  const { points, mix } = liveValues(step);
  const figures = new Array<number>(SECTIONS * SECTION_FLOATS).fill(0);
  for (let section = 0; section < SECTIONS; section++) figures[section * SECTION_FLOATS] = 1;
  // A point keeps its places, so that one that is turned glides and moves no other.
  for (const [i, point] of points.entries())
    for (const [k, section] of sectionsOf(point, rate).entries()) {
      const at = (i * POINT_SECTIONS + k) * SECTION_FLOATS;
      figures.splice(at, SECTION_FLOATS, ...section.b, ...section.a);
    }
  return { form: 0, length: 0, mix, figures };
}

function compressor(step: OfStep<'compressor'>, rate: number): Compiled {
  const { thresholdDb, ratio, kneeDb, attackMs, releaseMs, by, makeUpDb, mix } = liveValues(step);
  const poles = [attackMs, releaseMs, POWER_MS].map((ms) => poleOf(ms, rate));
  const figures = [thresholdDb, 1 / ratio - 1, kneeDb, ...poles, fromDb(makeUpDb)];
  return { form: by === 'rms' ? 1 : 0, length: 0, mix, figures };
}

/** Over these drives in dB a curve makes so many overtones that it works at the finer rate. */
const FINE_OVER = { round: 18, cut: 12, lean: 18, fold: 30 } as const;

function saturation(step: OfStep<'saturation'>, rate: number): Compiled {
  const { character, driveDb, toneHz, outputDb, mix } = liveValues(step);
  const tone = toneHz < rate / 2 ? toneHz / rate : OPEN;
  const dc = character === 'lean' ? DC_CUTOFF_HZ / rate : 0;
  const fine = driveDb > FINE_OVER[character] ? 1 : 0;
  return {
    form: CHARACTER_NAMES.indexOf(character),
    length: 0,
    mix,
    figures: [fromDb(driveDb), fromDb(outputDb), tone, dc, fine],
  };
}
