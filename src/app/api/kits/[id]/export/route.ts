import { z } from 'zod';
import { safeFileName } from '@/core/naming/names';
import { kitBundle } from '@/server/exporting/kit-bundle';
import { zipStream } from '@/server/exporting/zip';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

const Query = z.object({
  for: z.enum(['share', 'self']).default('share'),
  numbered: z.enum(['yes', 'no']).default('no'),
});

/**
 * A kit's bundle. `for=self` makes a private copy, which may hold what cannot be passed on and says so; `numbered=yes`
 * numbers the files in the order of the pads.
 */
export const GET = guard({ query: Query }, ({ params, query }) => {
  const isPrivate = query.for === 'self';
  const { name, files } = kitBundle(workspace().db, params.id ?? '', {
    isPrivate,
    isNumbered: query.numbered === 'yes',
  });
  const file = `${safeFileName(name)}${isPrivate ? ' (private)' : ''}.zip`;
  const ascii = file.replace(/[^\x20-\x7e]/g, '_');
  return new Response(zipStream(files), {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(file)}`,
      'Cache-Control': 'no-store',
    },
  });
});
