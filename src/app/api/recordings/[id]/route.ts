import { guard } from '@/server/http/guard';
import { requireDiscardable } from '@/server/importing/discard';
import { workspace } from '@/server/workspace';

/** Removes a recording from the bin for good, with its audio; refused while anything is made of it. */
export const DELETE = guard({}, ({ params }) => {
  const { db, threads } = workspace();
  const id = params.id ?? '';
  requireDiscardable(db, id);
  threads.remove(id);
  return { removed: id };
});
