import { z } from 'zod';
import { MOST_BUNDLE_BYTES } from '@/core/kit/open-bundle';
import { guard } from '@/server/http/guard';
import { wholeBody } from '@/server/http/whole-body';
import { importBundle } from '@/server/importing/bundle';
import { plainImport } from '@/server/importing/options';
import { listKits } from '@/server/views/kits';
import { workspace } from '@/server/workspace';

export const GET = guard({}, () => listKits(workspace().db));

const Query = z.object({ browser: z.string().min(8).max(64), tab: z.string().max(64).default('') });

/** Opens a bundle, the zip that an export makes, as a kit of the workspace; its bytes are the body. */
export const POST = guard({ query: Query }, async ({ query, request }) => {
  const { db, events, threads } = workspace();
  const zip = await wholeBody(request, MOST_BUNDLE_BYTES, 'A bundle');
  const take = (name: string, bytes: Uint8Array) =>
    threads.imports.import(plainImport(name), bytes.length, [bytes] as unknown as AsyncIterable<Uint8Array>);
  const { touched, ...answer } = await importBundle(db, take, zip, query);
  events.send({ type: 'edit', touched, tab: query.tab });
  events.send({ type: 'recordings' });
  threads.wake();
  return answer;
});
