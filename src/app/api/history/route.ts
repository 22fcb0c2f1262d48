import { z } from 'zod';
import { Browser, UndoRequest } from '@/contract/edits';
import { relisten } from '@/server/analysis/describe';
import { readHistory, undoOrRedo } from '@/server/history/undo';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

export const GET = guard({ query: z.object({ browser: Browser }) }, ({ query }) =>
  readHistory(workspace().db, query.browser, 100),
);

export const POST = guard({ body: UndoRequest }, ({ body }) => {
  const { db, events, threads } = workspace();
  const answer = undoOrRedo(db, body);
  events.send({ type: 'edit', tab: body.tab, touched: answer.touched });
  if (relisten(db, answer.touched)) threads.wake();
  return answer;
});
