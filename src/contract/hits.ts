import { z } from 'zod';
import { Id } from '@/core/model';
import { Browser } from './edits';
import { Prepare } from './imports';

/** Hits to prepare: silence off the ends, a level, and so on; see `core/hit/prepare`. */
export const PrepareRequest = z.object({
  browser: Browser,
  tab: z.string().max(40).default(''),
  ids: z.array(Id).min(1).max(2000),
  ticks: Prepare,
});
export type PrepareRequest = z.infer<typeof PrepareRequest>;
