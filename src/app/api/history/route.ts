import { z } from 'zod';
import { Browser, UndoRequest } from '@/contract/edits';
import { relisten } from '@/server/analysis/describe';
import { readHistory, undoOrRedo } from '@/server/history/undo';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** With `before` the history of all browsers, a page of it from the edit before that one on. */
const Query = z.object({ browser: Browser, before: z.coerce.number().int().positive().optional() });

export const GET = guard({ query: Query }, ({ query: { browser, before } }) =>
  readHistory(workspace().db, browser, 100, before),
);

export const POST = guard({ body: UndoRequest }, ({ body }) => {
  const { db, events, threads } = workspace();
  const answer = undoOrRedo(db, body);
  events.send({ type: 'edit', tab: body.tab, touched: answer.touched });
  if (relisten(db, answer.touched)) threads.wake();
  return answer;
});
