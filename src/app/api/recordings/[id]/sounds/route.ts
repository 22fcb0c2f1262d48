import { queueDescription } from '@/server/analysis/describe';
import { isRhythmOutdated } from '@/server/analysis/rhythm';
import { guard } from '@/server/http/guard';
import { soundsView } from '@/server/views/sounds';
import { workspace } from '@/server/workspace';

/** What is heard in a recording's slices, and its rhythm; what is not known yet, or no longer true, is worked out from now on. */
export const GET = guard({}, ({ params }) => {
  const { db, threads } = workspace();
  const id = params.id ?? '';
  const view = soundsView(db, id);
  const behind = view.unheard > 0 || (view.sounds.length > 0 && isRhythmOutdated(db, id));
  if (behind && queueDescription(db, id)) threads.wake();
  return view;
});
