import type { Values } from '../parameter/parameter';
import { filled, sparse } from '../parameter/values';
import { type ProcessorName, processorOf } from './processors';

/** What every step has beside the parameters of its processor, which stand flat beside these. */
interface StepFields {
  readonly id: string;
  readonly hitId: string;
  /** Order among the hit's steps, lowest first. */
  readonly position: number;
  readonly processor: ProcessorName;
  /** A step that is switched off is kept and does nothing. */
  readonly active: boolean;
}

export const STEP_INITIAL = { active: true } as const;

/** One thing that is done to a hit's sound. */
export type Step = StepFields & Readonly<Record<string, unknown>>;

/** A new step; parameters that are not told have their initial values. */
export function newStep(
  hitId: string,
  processor: ProcessorName,
  position: number,
  values: Readonly<Record<string, unknown>> = {},
): Omit<Step, 'id'> & {
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

/** Tells two steps apart that sound different: processor, its version, and what differs from the initial values, by name. */
export function stepKey(step: Step): string {
  const { version, parameters } = processorOf(step.processor);
  const values = Object.entries(sparse(parameters, step)).sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([step.processor, version, values]);
}
