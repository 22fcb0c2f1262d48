import type { Values } from '../parameter/parameter';
import { filled, sparse } from '../parameter/values';
import { type ProcessorName, processorOf } from './processors';

/** Fields of every step beside the parameters of its processor, which are stored flat with these. */
interface StepFields {
  readonly id: string;
  /** Order in its chain, lowest first. */
  readonly position: number;
  readonly processor: ProcessorName;
  /** A step that is switched off is kept and skipped. */
  readonly active: boolean;
}

export const STEP_INITIAL = { active: true } as const;

/** One treatment of a sound, in any chain. */
export type Step = StepFields & Readonly<Record<string, unknown>>;

/** A step of a hit. */
export type HitStep = Step & { readonly hitId: string };

/** A step of a recording, which its hits inherit. */
export type RecordingStep = Step & { readonly recordingId: string };

/** A step of a layer of a layered hit. */
export type MemberStep = Step & { readonly memberId: string };

/** A new step; missing parameters have their initial values. */
export function newStep(
  hitId: string,
  processor: ProcessorName,
  position: number,
  values: Readonly<Record<string, unknown>> = {},
): Omit<HitStep, 'id'> & {
  readonly hitId: string;
  readonly processor: ProcessorName;
  readonly position: number;
  readonly active: boolean;
} {
  return { hitId, processor, position, active: true, ...values };
}

/** The values of a step's parameters. */
export function valuesOf(step: Step): Values<ReturnType<typeof processorOf>['parameters']> {
  return filled(processorOf(step.processor).parameters, step);
}

/** Key of a step's sound: processor, version, and the values that differ from the initial ones, by name. */
export function stepKey(step: Step): string {
  const { version, parameters } = processorOf(step.processor);
  const values = Object.entries(sparse(parameters, step)).sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([step.processor, version, values]);
}
