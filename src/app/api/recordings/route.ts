import { z } from 'zod';
import { Prepare, TakeAs } from '@/contract/imports';
import { UndercroftError } from '@/core/errors';
import { guard } from '@/server/http/guard';
import { ListQuery } from '@/server/http/list-query';
import { listPage } from '@/server/views/listing';
import { listRecordings, RECORDINGS } from '@/server/views/recordings';
import { workspace } from '@/server/workspace';

/** All recordings; with `paged` a page of them, or what has changed since an earlier one. */
export const GET = guard({ query: ListQuery }, ({ query }) => {
  const { db } = workspace();
  return query.paged ? listPage(db, RECORDINGS, query) : listRecordings(db);
});

const Query = z.object({
  name: z.string().min(1).max(1000),
  as: TakeAs.default('recording'),
  prepare: z
    .string()
    .default('')
    .transform((list) => list.split(',').filter((word) => word !== ''))
    .pipe(Prepare),
  /** Names the upload in the event stream, which tells how far its decoding is. */
  key: z.string().max(40).default(''),
});

/** Takes a file in: its bytes are the body, streamed to the importing thread; its name is in the address. */
export const POST = guard({ query: Query }, async ({ query, request }) => {
  const { threads, events } = workspace();
  const announced = Number(request.headers.get('content-length'));
  const pieces = (request.body ?? []) as AsyncIterable<Uint8Array>;
  const options = { fileName: query.name, path: '', takeAs: query.as, prepare: query.prepare };
  try {
    const answer = await threads.imports.import(options, announced > 0 ? announced : null, pieces, {
      decoding: (share) => events.send({ type: 'decoding', key: query.key, share }),
      signal: request.signal,
    });
    events.send({ type: 'recordings' });
    threads.wake();
    return answer;
  } catch (error) {
    if (!(error instanceof UndercroftError)) throw error;
    throw new UndercroftError(error.code, `${query.name}: ${error.message}`);
  }
});
