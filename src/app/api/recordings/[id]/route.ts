import { guard } from '@/server/http/guard';
import { claimForRemoval } from '@/server/importing/removal';
import { workspace } from '@/server/workspace';

/** Removes a recording from the bin for good, with its audio; refused while anything is made of it. */
export const DELETE = guard({}, ({ params }) => {
  const { db, threads, events } = workspace();
  const id = params.id ?? '';
  claimForRemoval(db, id);
  events.send({ type: 'recordings' });
  threads.imports.remove(id);
  return { removed: id };
});
