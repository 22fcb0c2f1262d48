import { RemoveRequest } from '@/contract/hits';
import { removeHits } from '@/server/hits/remove';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Removes hits from the bin, with what hangs on them, as one edit. */
export const POST = guard({ body: RemoveRequest }, ({ body }) => {
  const { db, events } = workspace();
  const answer = removeHits(db, body);
  events.send({ type: 'edit', tab: body.tab, touched: answer.touched });
  return answer;
});
