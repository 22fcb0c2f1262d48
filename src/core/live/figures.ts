import { MAX_POINTS, POINT_SECTIONS, STRIP_STEPS } from './limits';

/** Kinds of step that run live, in the order of their indices. */
export const STEP_KINDS = ['none', 'equaliser', 'compressor', 'saturation', 'room', 'echo', 'level'] as const;
export type StepKind = (typeof STEP_KINDS)[number];

/** Curves of a saturation, likewise. */
export const CHARACTER_NAMES = ['round', 'cut', 'lean', 'fold'] as const;

/** Floats of a filter section: b0, b1, b2, a1, a2. */
export const SECTION_FLOATS = 5;
export const SECTIONS = MAX_POINTS * POINT_SECTIONS;

/**
 * What every step has: its kind, what cannot change while it sounds (a curve, what is followed, where a room lies) and a
 * length in frames; then figures that can, gliding: whether it is on, its share of the sound, and its own.
 */
export const STEP = { kind: 0, form: 1, length: 2, on: 3, mix: 4, own: 5 } as const;
export const STEP_FLOATS = STEP.own + SECTIONS * SECTION_FLOATS;

/** A strip's steps in a program: how many, then each. */
export const STEPS_FLOATS = 1 + STRIP_STEPS * STEP_FLOATS;

/** Where a step begins, from the beginning of the steps. */
export function stepAt(step: number): number {
  return 1 + step * STEP_FLOATS;
}

/** Figures of a compressor: levels in dB, poles a frame, linear make-up; `form` is 1 where it follows loudness. */
export const COMPRESSOR = { threshold: 5, slope: 6, knee: 7, attack: 8, release: 9, power: 10, makeUp: 11 } as const;

/**
 * Figures of a saturation: linear gains before and after, the cutoffs of a low-pass and of what takes off a constant, as
 * shares of the sample rate, and whether it works at the finer of two rates.
 */
export const SATURATION = { drive: 5, output: 6, tone: 7, dc: 8, fine: 9 } as const;
/** Figures of an echo: what comes back, and of its low-pass; `form` is where its line lies, `length` twice its frames and 1 more where it crosses. */
export const ECHO = { feedback: 5, tone: 6 } as const;

/** The figure of an echo's low-pass with a cutoff in Hz at a rate. */
export function toneOf(hz: number, rate: number): number {
  return 1 - Math.exp((-2 * Math.PI * Math.min(hz, rate / 2)) / rate);
}

/** A level's only figure: a linear gain. */
export const LEVEL = { gain: 5 } as const;

/** A cutoff over all that is heard. */
export const OPEN = 3.6;

/** A step as the engine takes it; `figures` are those from `own` on. */
export interface StepSound {
  readonly kind: number;
  readonly form: number;
  readonly length: number;
  readonly on: number;
  readonly mix: number;
  readonly figures: readonly number[];
}

/** Writes steps from float `at` of a program on. Throws a RangeError for more than a strip may have. */
export function writeSteps(steps: readonly StepSound[], into: Float64Array, at: number): void {
  if (steps.length > STRIP_STEPS) throw new RangeError(`Up to ${STRIP_STEPS} steps run live; got ${steps.length}.`);
  into[at] = steps.length;
  for (const [i, { kind, form, length, on, mix, figures }] of steps.entries()) {
    const from = at + stepAt(i);
    into.fill(0, from, from + STEP_FLOATS);
    into.set([kind, form, length, on, mix, ...figures], from);
  }
}
