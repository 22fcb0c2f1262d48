import { z } from 'zod';
import { Id } from '../model';
import { PROCESSOR_NAMES } from './processors';

/** The fields that every step has; see `Step`. Its parameters are those of its processor. */
export const StepBase = z.object({
  id: Id,
  hitId: Id,
  position: z.number().min(-1e6).max(1e6),
  processor: z.enum(PROCESSOR_NAMES),
  active: z.boolean(),
});
