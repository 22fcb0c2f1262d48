import { MakeVoice } from '@/contract/voices';
import { makeVoice } from '@/server/hits/voices';
import { guard } from '@/server/http/guard';
import { takeMade } from '@/server/jobs/take-made';
import { workspace } from '@/server/workspace';

/** Makes a hit whose source is a struck voice. */
export const POST = guard({ body: MakeVoice }, async ({ body }) => {
  const { db, events, threads } = workspace();
  const { touched, ...answer } = await makeVoice(db, takeMade(threads), body);
  events.send({ type: 'recordings' });
  events.send({ type: 'edit', touched, tab: body.tab });
  threads.wake();
  return answer;
});
