import { PrepareRequest } from '@/contract/hits';
import { commitEdit } from '@/server/history/commit';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Prepares hits as one edit; how far it is is told on the event stream, and leaving the request cancels it. */
export const POST = guard({ body: PrepareRequest }, async ({ body, request }) => {
  const { db, events, threads } = workspace();
  const { browser, tab, ids } = body;
  const tell = (share: number) => events.send({ type: 'preparing', tab, share });
  const changes = await threads.maker.prepare(body, tell, request.signal);
  const label = ids.length === 1 ? 'prepared a hit' : `prepared ${ids.length} hits`;
  const answer = commitEdit(db, { browser, tab, label, changes });
  events.send({ type: 'edit', tab, touched: answer.touched });
  return answer;
});
