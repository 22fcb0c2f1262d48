import { TakePiece } from '@/contract/takes';
import { joinBytes } from '@/core/bytes';
import { UndercroftError } from '@/core/errors';
import { guard } from '@/server/http/guard';
import { workspace } from '@/server/workspace';

/** Some seconds of many channels. */
const MOST_BYTES = 16 * 1024 * 1024;

/** Stores frames of a running take; answers once they are on the disk. */
export const POST = guard({ query: TakePiece }, async ({ params, query, request }) => {
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    if (bytes > MOST_BYTES)
      throw new UndercroftError('too-large', `A piece of a take has at most ${MOST_BYTES / 1024 / 1024} MB.`);
    pieces.push(piece);
  }
  const { takes } = workspace().threads.imports;
  return { frames: await takes.push(params.id ?? '', query.from, joinBytes(pieces)) };
});
