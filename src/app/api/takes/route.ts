import { BeginTake } from '@/contract/takes';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Begins a take; one that was begun under the same id goes on. Answers with the frames that are stored of it. */
export const POST = guard({ body: BeginTake }, async ({ body }) => ({
  frames: await workspace().threads.imports.takes.begin(body),
}));
