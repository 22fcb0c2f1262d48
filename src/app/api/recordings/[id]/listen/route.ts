import { requireReady } from '@/server/history/rules';
import { guard } from '@/server/http/guard';
import { queueJob } from '@/server/jobs/lease';
import { workspace } from '@/server/workspace';

/** Begins to listen to a recording again, as where that was given up. */
export const POST = guard({}, ({ params }) => {
  const { db, threads, events } = workspace();
  const id = params.id ?? '';
  requireReady(db, id);
  const begun = queueJob(db, 'analyse', id, { unlessRunning: true });
  threads.wake();
  events.send({ type: 'recordings' });
  return { begun };
});
