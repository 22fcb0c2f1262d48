import { z } from 'zod';

const Key = z
  .string()
  .max(1000)
  .refine((text) => {
    try {
      return z.array(z.string()).length(2).safeParse(JSON.parse(text)).success;
    } catch {
      return false;
    }
  }, 'This is not the "next" of a page.');

/** Which part of a list is requested; see `views/listing`. */
export const ListQuery = z.object({
  paged: z
    .enum(['yes', 'no'])
    .default('no')
    .transform((word) => word === 'yes'),
  since: z.string().max(60).optional(),
  after: Key.optional(),
});
