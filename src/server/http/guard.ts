import type { z } from 'zod';
import type { ErrorAnswer } from '@/contract/views';
import { type ErrorCode, UndercroftError } from '@/core/errors';

const STATUS: Readonly<Record<ErrorCode, number>> = {
  'not-audio': 415,
  'unsupported-audio': 415,
  'damaged-audio': 422,
  'out-of-range': 400,
  'not-found': 404,
  stale: 409,
  refused: 409,
  forbidden: 403,
  'too-large': 413,
  cancelled: 499,
  'storage-full': 507,
};

const LARGEST_JSON = 8 * 1024 * 1024;
const HOME = new Set(['localhost', '127.0.0.1', '[::1]']);

export interface Guarded<B, Q> {
  readonly body: B;
  readonly query: Q;
  readonly params: Readonly<Record<string, string>>;
  readonly request: Request;
}

interface Rules<B extends z.ZodType, Q extends z.ZodType> {
  /** Schema of a JSON body; without one the body is left unread, to be streamed. */
  readonly body?: B;
  readonly query?: Q;
}

type Context = { params: Promise<Record<string, string>> };

/**
 * The one way into every route: refuses foreign hosts and origins (so that no web page elsewhere can reach the server of
 * the person's own machine, DNS rebinding included), bounds and checks the input, and gives every error one shape.
 */
export function guard<B extends z.ZodType = z.ZodUndefined, Q extends z.ZodType = z.ZodUndefined>(
  rules: Rules<B, Q>,
  handler: (input: Guarded<z.infer<B>, z.infer<Q>>) => Promise<Response | object> | Response | object,
): (request: Request, context: Context) => Promise<Response> {
  return async (request, context) => {
    try {
      requireHome(request);
      const query = rules.query
        ? parse(rules.query, Object.fromEntries(new URL(request.url).searchParams), 'query')
        : undefined;
      const body = rules.body ? parse(rules.body, await readJson(request), 'body') : undefined;
      const params = await context.params;
      const answer = await handler({ body, query, params, request } as Guarded<z.infer<B>, z.infer<Q>>);
      return answer instanceof Response ? answer : Response.json(answer, { headers: { 'Cache-Control': 'no-store' } });
    } catch (error) {
      return errorAnswer(error);
    }
  };
}

function requireHome(request: Request): void {
  const host = request.headers.get('host') ?? '';
  if (!HOME.has(host.replace(/:\d+$/, ''))) {
    throw new UndercroftError(
      'forbidden',
      `Requests to the host "${host}" are not answered; use the address that was printed at the start.`,
    );
  }
  const origin = request.headers.get('origin');
  if (origin !== null && origin !== `http://${host}`) {
    throw new UndercroftError('forbidden', `Requests from the origin "${origin}" are not answered.`);
  }
  const site = request.headers.get('sec-fetch-site');
  if (site === 'cross-site') throw new UndercroftError('forbidden', 'Requests from other sites are not answered.');
}

async function readJson(request: Request): Promise<unknown> {
  const tooLarge = () =>
    new UndercroftError('too-large', `A request has at most ${LARGEST_JSON / 1024 / 1024} MB of JSON.`);
  if (Number(request.headers.get('content-length') ?? 0) > LARGEST_JSON) throw tooLarge();
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += piece.length;
    if (size > LARGEST_JSON) throw tooLarge();
    pieces.push(piece);
  }
  try {
    return JSON.parse(Buffer.concat(pieces).toString('utf8'));
  } catch {
    throw new UndercroftError('out-of-range', 'The body is not JSON.', 'body');
  }
}

function parse<T extends z.ZodType>(schema: T, value: unknown, where: string): z.infer<T> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0];
  const path = [where, ...(issue?.path ?? [])].join('.');
  throw new UndercroftError('out-of-range', `${path}: ${issue?.message ?? 'not valid'}`, path);
}

export function errorAnswer(error: unknown): Response {
  if (error instanceof UndercroftError) {
    const answer: ErrorAnswer = {
      error: { code: error.code, message: error.message, ...(error.path ? { path: error.path } : {}) },
    };
    return Response.json(answer, { status: STATUS[error.code] });
  }
  if ((error as { code?: string }).code === 'SQLITE_FULL') {
    return Response.json(
      { error: { code: 'storage-full', message: 'The disk is full; nothing was changed.' } },
      { status: 507 },
    );
  }
  console.error(error);
  const answer: ErrorAnswer = {
    error: { code: 'internal', message: 'Something went wrong in the server; nothing was changed. Its log says more.' },
  };
  return Response.json(answer, { status: 500 });
}
