import { z } from 'zod';
import { UndercroftError } from '@/core/errors';
import { guard } from '@/server/http/guard';
import { readPeakTile } from '@/server/views/peaks';
import { workspace } from '@/server/workspace';

const Whole = z.coerce.number().int().min(0);

/** One tile of peaks; see `PEAK_FRAMES` in the contract. They never change. */
export const GET = guard({ query: z.object({ level: Whole, tile: Whole }) }, ({ params, query }) => {
  const data = readPeakTile(workspace().db, params.id ?? '', query.level, query.tile);
  if (!data) throw new UndercroftError('not-found', 'There are no peaks at this place.');
  return new Response(new Uint8Array(data), {
    headers: { 'Content-Type': 'application/octet-stream', 'Cache-Control': 'private, max-age=31536000, immutable' },
  });
});
