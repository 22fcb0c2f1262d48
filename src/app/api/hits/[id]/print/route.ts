import { PrintRequest } from '@/contract/hits';
import { printHit } from '@/server/hits/print';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Prints a hit as it sounds to a recording of its own; answers as an import does. */
export const POST = guard({ body: PrintRequest }, async ({ params, body }) => {
  const { events, threads } = workspace();
  const { touched, ...answer } = await printHit(workspace(), params.id ?? '', body);
  events.send({ type: 'recordings' });
  if (touched.length > 0) events.send({ type: 'edit', tab: body.tab, touched });
  threads.wake();
  return answer;
});
