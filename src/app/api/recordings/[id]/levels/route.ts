import { guard } from '@/server/http/guard';
import { readLevels } from '@/server/views/levels';
import { workspace } from '@/server/workspace';

/** Levels of a recording, one byte a step; how many frames a step has stands in a header. */
export const GET = guard({}, ({ params }) => {
  const { step, values } = readLevels(workspace().db, params.id ?? '');
  return new Response(values, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'no-store',
      'X-Frames-A-Step': String(step),
    },
  });
});
