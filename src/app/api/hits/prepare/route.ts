import { PrepareRequest } from '@/contract/hits';
import { prepareHits } from '@/server/hits/prepare';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const POST = guard({ body: PrepareRequest }, ({ body }) => {
  const { db, events } = workspace();
  const answer = prepareHits(db, body);
  events.send({ type: 'edit', tab: body.tab, touched: answer.touched });
  return answer;
});
