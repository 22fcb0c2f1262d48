import { PrintStrokes } from '@/contract/voices';
import { printStrokes } from '@/server/hits/voices';
import { guard } from '@/server/http/guard';
import { takeMade } from '@/server/jobs/take-made';
import { workspace } from '@/server/workspace';

/** Prints strokes of a struck voice at several velocities, each a hit. */
export const POST = guard({ body: PrintStrokes }, async ({ params, body }) => {
  const { db, events, threads } = workspace();
  const { touched, ...answer } = await printStrokes(db, takeMade(threads), params.id ?? '', body);
  events.send({ type: 'recordings' });
  events.send({ type: 'edit', touched, tab: body.tab });
  threads.wake();
  return answer;
});
