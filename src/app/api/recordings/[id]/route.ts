import { UndercroftError } from '@/core/errors';
import { guard } from '@/server/http/guard';
import { claimForRemoval } from '@/server/importing/removal';
import { recordingsById } from '@/server/views/recordings';
import { workspace } from '@/server/workspace';

/** A recording as lists show it. */
export const GET = guard({}, ({ params }) => {
  const [recording] = recordingsById(workspace().db, [params.id ?? '']);
  if (!recording) throw new UndercroftError('not-found', 'The recording is not there (any more).');
  return recording;
});

/** Removes a recording from the bin for good, with its audio; refused while anything is made of it. */
export const DELETE = guard({}, ({ params }) => {
  const { db, threads, events } = workspace();
  const id = params.id ?? '';
  claimForRemoval(db, id);
  events.send({ type: 'recordings' });
  threads.imports.remove(id);
  return { removed: id };
});
