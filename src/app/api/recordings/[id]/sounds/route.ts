import { z } from 'zod';
import { listenToMissing } from '@/server/analysis/describe';
import { isRhythmOutdated } from '@/server/analysis/rhythm';
import { guard } from '@/server/http/guard';
import { queueJob } from '@/server/jobs/lease';
import { soundsView } from '@/server/views/descriptions';
import { workspace } from '@/server/workspace';

/** The sound whose figures, and those of all before it, are known to who asks. */
const After = z.coerce.number().int().nonnegative().default(0);

/** What is heard in a recording's slices, and its rhythm; what is not known yet, or no longer true, is worked out from now on. */
export const GET = guard({ query: z.object({ after: After }) }, ({ params, query }) => {
  const { db, threads } = workspace();
  const id = params.id ?? '';
  const view = soundsView(db, id, query.after);
  const begun =
    view.unheard > 0
      ? listenToMissing(db, id)
      : isRhythmOutdated(db, id) && queueJob(db, 'rhythm', id, { unlessRunning: true });
  if (begun) threads.wake();
  return view;
});
