import { EndTake } from '@/contract/takes';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Ends a take: it becomes a recording. Asked again, it is answered again. */
export const POST = guard({ body: EndTake }, async ({ params, body }) => {
  const { threads, events } = workspace();
  const answer = await threads.imports.takes.end(params.id ?? '', body);
  events.send({ type: 'recordings' });
  threads.wake();
  return answer;
});
