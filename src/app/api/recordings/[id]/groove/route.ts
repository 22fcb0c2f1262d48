import type { HeardGroove } from '@/contract/views';
import { listenToMissing } from '@/server/analysis/describe';
import { grooveOf } from '@/server/analysis/rhythm';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** The rhythm of a recording as a groove of roles, with ids of its own; nothing is stored. What was not listened to is from now on. */
export const GET = guard({}, ({ params }): HeardGroove => {
  const { db, threads } = workspace();
  const id = params.id ?? '';
  const groove = grooveOf(db, id);
  if (!groove && listenToMissing(db, id)) threads.wake();
  return { groove };
});
