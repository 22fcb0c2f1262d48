import { z } from 'zod';
import { safeFileName } from '@/core/naming/safe-names';
import { LENGTH_HEADER } from '@/server/http/door';
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
  const isPrivate = query.for === 'self';
  const { name, bytes, stream } = await workspace().threads.maker.bundle(params.id ?? '', {
    isPrivate,
    isNumbered: query.numbered === 'yes',
  });
  const file = `${safeFileName(name)}${isPrivate ? ' (private)' : ''}.zip`;
  const ascii = file.replace(/[^\x20-\x7e]/g, '_');
  const headers = {
    'Content-Type': 'application/zip',
    [LENGTH_HEADER]: String(bytes),
    'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(file)}`,
    'Cache-Control': 'no-store',
  };
  if (request.method !== 'HEAD') return new Response(stream, { headers });
  await stream.cancel();
  return new Response(null, { headers });
});
