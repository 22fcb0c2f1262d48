import { z } from 'zod';
import { shapeOf } from '../parameter/schema';
import { PROCESSOR_NAMES, type ProcessorName, processorOf } from './processors';
import { newStep, type Step } from './step';

/** A step without its hit: what a chain that is kept, copied or written in a file holds. */
export interface ChainStep extends Readonly<Record<string, unknown>> {
  readonly processor: ProcessorName;
}

const Named = z.looseObject({
  processor: z.enum(PROCESSOR_NAMES, { error: `A step's processor is one of ${PROCESSOR_NAMES.join(', ')}.` }),
  active: z.boolean().optional(),
});

/**
 * Steps as a file or a recipe has them, checked against the declarations of their processors. Throws a ZodError that names
 * the step, the parameter and its range.
 */
export const Chain = z
  .array(z.unknown())
  .max(100, { error: 'A chain has up to 100 steps.' })
  .transform((steps, context): readonly ChainStep[] =>
    steps.flatMap((value, i) => {
      const named = Named.safeParse(value);
      const checked = named.success
        ? z
            .strictObject(shapeOf(processorOf(named.data.processor).parameters))
            .partial()
            .extend({ processor: z.string(), active: z.boolean().optional() })
            .safeParse(value)
        : named;
      if (checked.success) return [checked.data as ChainStep];
      for (const issue of checked.error.issues)
        context.addIssue({ code: 'custom', message: issue.message, path: [i, ...issue.path] });
      return [];
    }),
  );

/** A chain as the steps of a hit, in order. */
export function stepsOf(hitId: string, chain: readonly ChainStep[], newId: () => string): Step[] {
  return chain.map(({ processor, ...values }, position) => ({
    ...newStep(hitId, processor, position, values),
    id: newId(),
  }));
}

/** The steps of a hit as a chain. */
export function chainOf(steps: readonly Step[]): ChainStep[] {
  return steps.map(({ id: _id, hitId: _hit, position: _position, rev: _rev, ...step }) => step as ChainStep);
}
