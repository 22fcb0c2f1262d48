import { z } from 'zod';
import { guard } from '@/server/http/guard';
import { putSupplied } from '@/server/importing/supplied';
import { takeMade } from '@/server/jobs/take-made';
import { workspace } from '@/server/workspace';

const Query = z.object({ browser: z.string().min(8).max(64), tab: z.string().max(64).default('') });

/** Puts the starter kit and its hits into the workspace; nothing where it is there. */
export const POST = guard({ query: Query }, async ({ query }) => {
  const { db, events, threads } = workspace();
  const { touched, ...answer } = await putSupplied(db, takeMade(threads), query);
  events.send({ type: 'edit', touched, tab: query.tab });
  events.send({ type: 'recordings' });
  threads.wake();
  return answer;
});
