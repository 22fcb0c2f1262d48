import { queueDescription } from '@/server/analysis/describe';
import { guard } from '@/server/http/guard';
import { soundsView } from '@/server/views/sounds';
import { workspace } from '@/server/workspace';

/** What is heard in a recording's slices; those that were not listened to yet are from now on. */
export const GET = guard({}, ({ params }) => {
  const { db, threads } = workspace();
  const id = params.id ?? '';
  const view = soundsView(db, id);
  if (view.unheard > 0 && queueDescription(db, id)) threads.wake();
  return view;
});
