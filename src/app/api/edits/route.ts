import { EditRequest } from '@/contract/edits';
import { relisten } from '@/server/analysis/describe';
import { commitEdit } from '@/server/history/commit';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const POST = guard({ body: EditRequest }, ({ body }) => {
  const { db, events, threads } = workspace();
  const answer = commitEdit(db, body);
  events.send({ type: 'edit', tab: body.tab, touched: answer.touched });
  if (relisten(db, answer.touched)) threads.wake();
  return answer;
});
