import { z } from 'zod';
import { shapeOf } from '../parameter/schema';
import type { ChainStep } from './chain';
import { PROCESSOR_NAMES, processorOf } from './processors';

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
