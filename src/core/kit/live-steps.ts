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
} from '../live/figures';
import { POINT_SECTIONS } from '../live/limits';
import { fromDb } from '../signal/units';
import { type LiveName, liveValues, type PadStep } from '../treatment/live';
import { sectionsOf } from '../treatment/process/equaliser';

/** A room's response in sample memory: its first float, and how many frames it has. */
export interface LaidRoom {
  readonly at: number;
  readonly frames: number;
}

/** Time over which a compressor that follows loudness takes the mean square, as in treatments. */
const POWER_MS = 5;

type OfStep<N extends LiveName> = PadStep & { readonly processor: N };
type Compiled = Pick<StepSound, 'form' | 'length' | 'mix' | 'figures'>;

/**
 * A pad's steps as the engine runs them at a rate, in their order. `roomOf` gives where a room's response lies; those that are not
 * there yet are switched off.
 */
export function liveSteps(
  steps: readonly PadStep[],
  rate: number,
  roomOf: (step: PadStep) => LaidRoom | null,
): StepSound[] {
  return steps.map((step) => {
    const compiled = compile(step, rate, roomOf);
    const kind = STEP_KINDS.indexOf(step.processor satisfies StepKind);
    return compiled
      ? { kind, on: step.active ? 1 : 0, ...compiled }
      : { kind: 0, form: 0, length: 0, on: 0, mix: 0, figures: [] };
  });
}

function compile(step: PadStep, rate: number, roomOf: (step: PadStep) => LaidRoom | null): Compiled | null {
  switch (step.processor) {
    case 'equaliser':
      return equaliser(step as OfStep<'equaliser'>, rate);
    case 'compressor':
      return compressor(step as OfStep<'compressor'>, rate);
    case 'saturation':
      return saturation(step as OfStep<'saturation'>, rate);
    case 'room': {
      const laid = roomOf(step);
      const { mix } = liveValues(step as OfStep<'room'>);
      return laid && { form: laid.at, length: laid.frames, mix, figures: [] };
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
