import { z } from 'zod';
import { downloadOf } from '@/server/exporting/download';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

const Query = z.object({
  for: z.enum(['share', 'self']).default('share'),
  numbered: z.enum(['yes', 'no']).default('no'),
});

/**
 * A kit's bundle. `for=self` makes a private copy, which may hold what cannot be passed on and says so; `numbered=yes`
 * numbers the files in the order of the pads. Its length is told beforehand, so that whoever saves it sees how far it is.
 */
export const GET = guard({ query: Query }, async ({ params, query, request }) => {
  const made = await workspace().threads.maker.bundle({
    kitId: params.id ?? '',
    options: { isPrivate: query.for === 'self', isNumbered: query.numbered === 'yes' },
  });
  return downloadOf(made, request.method);
});
