import { z } from 'zod';
import { MOST_TILES } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import { guard } from '@/server/http/guard';
import { readPeakTiles } from '@/server/views/peaks';
import { workspace } from '@/server/workspace';

const Whole = z.coerce.number().int().min(0);

const Query = z.object({ level: Whole, tile: Whole, count: Whole.min(1).max(MOST_TILES).default(1) });

/** Tiles of peaks from one on; see `PEAK_FRAMES` in the contract. They never change. */
export const GET = guard({ query: Query }, ({ params, query: { level, tile, count } }) => {
  const data = readPeakTiles(workspace().db, params.id ?? '', level, tile, count);
  if (!data) throw new UndercroftError('not-found', 'There are no peaks at this place.');
  return new Response(new Uint8Array(data), {
    headers: { 'Content-Type': 'application/octet-stream', 'Cache-Control': 'private, max-age=31536000, immutable' },
  });
});
