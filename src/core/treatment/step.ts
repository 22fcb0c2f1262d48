import { z } from 'zod';
import { Id } from '../model';
import type { Values } from '../parameter/parameter';
import { filled, sparse } from '../parameter/values';
import { PROCESSOR_NAMES, type PROCESSORS, type ProcessorName, processorOf } from './processors';

/** What every step has beside the parameters of its processor, which stand flat beside these. */
export const StepBase = z.object({
  id: Id,
  hitId: Id,
  /** Order among the hit's steps, lowest first. */
  position: z.number().min(-1e6).max(1e6),
  processor: z.enum(PROCESSOR_NAMES),
  /** A step that is switched off is kept and does nothing. */
  active: z.boolean(),
});

export const STEP_INITIAL = { active: true };

/** One thing that is done to a hit's sound. */
export type Step = z.infer<typeof StepBase> & Readonly<Record<string, unknown>>;

/** A step of one processor, with its values. */
export type StepOf<N extends ProcessorName> = z.infer<typeof StepBase> & Values<(typeof PROCESSORS)[N]['parameters']>;

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
