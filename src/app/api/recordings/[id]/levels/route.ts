import { guard } from '@/server/http/guard';
import { readLevels } from '@/server/views/levels';
import { workspace } from '@/server/workspace';

/** Levels of a recording, one byte a step; frames a step, and the room's level where that is known, stand in headers. */
export const GET = guard({}, ({ params }) => {
  const { step, values, roomDb } = readLevels(workspace().db, params.id ?? '');
  return new Response(values, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Cache-Control': 'no-store',
      'X-Frames-A-Step': String(step),
      ...(typeof roomDb === 'number' ? { 'X-Room-Dbfs': roomDb.toFixed(2) } : {}),
    },
  });
});
