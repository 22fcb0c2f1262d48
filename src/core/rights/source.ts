import { z } from 'zod';
import { LONGEST_NAME } from '../naming/names';
import { RIGHTS } from './rights';

/** A recording that sound was taken from, as a bundle tells it. */
export const Source = z.object({
  title: z.string().max(LONGEST_NAME),
  rightsKind: z.enum(RIGHTS),
  owner: z.string().max(200),
  text: z.string().max(2000),
});
export type Source = z.infer<typeof Source>;
