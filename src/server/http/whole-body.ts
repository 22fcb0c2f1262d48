import { joinBytes } from '@/core/bytes';
import { UndercroftError } from '@/core/errors';

/** Reads a request's body whole. Throws `too-large` once it passes so many bytes; `what` is said of it. */
export async function wholeBody(request: Request, most: number, what: string): Promise<Uint8Array> {
  const tooLarge = () =>
    new UndercroftError('too-large', `${what} has up to ${Math.round(most / 1024 / 1024)} MB; this one has more.`);
  if (Number(request.headers.get('content-length')) > most) throw tooLarge();
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    if (bytes > most) throw tooLarge();
    pieces.push(piece);
  }
  return joinBytes(pieces);
}
