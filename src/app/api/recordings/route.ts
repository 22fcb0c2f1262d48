import { z } from 'zod';
import { guard } from '@/server/http/guard';
import { listRecordings } from '@/server/views/recordings';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listRecordings(workspace().db));

/** Takes a file in: its bytes are the body, streamed to the importing thread; its name is in the address. */
export const POST = guard({ query: z.object({ name: z.string().min(1).max(1000) }) }, async ({ query, request }) => {
  const { threads, events } = workspace();
  const announced = Number(request.headers.get('content-length'));
  const pieces = (request.body ?? []) as AsyncIterable<Uint8Array>;
  const answer = await threads.import(query.name, announced > 0 ? announced : null, pieces);
  events.send({ type: 'recordings' });
  threads.wake();
  return answer;
});
