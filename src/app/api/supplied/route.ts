import { z } from 'zod';
import { guard } from '@/server/http/guard';
import { plainImport } from '@/server/importing/options';
import { putSupplied } from '@/server/importing/supplied';
import { workspace } from '@/server/workspace';

const Query = z.object({ browser: z.string().min(8).max(64), tab: z.string().max(64).default('') });

/** Puts the starter kit and its hits into the workspace; nothing where it is there. */
export const POST = guard({ query: Query }, async ({ query }) => {
  const { db, events, threads } = workspace();
  const take = (name: string, bytes: Uint8Array) =>
    threads.imports.import(plainImport(name), bytes.length, [bytes] as unknown as AsyncIterable<Uint8Array>);
  const { touched, ...answer } = await putSupplied(db, take, query);
  events.send({ type: 'edit', touched, tab: query.tab });
  events.send({ type: 'recordings' });
  threads.wake();
  return answer;
});
