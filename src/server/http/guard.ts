import type { z } from 'zod';
import type { ErrorAnswer } from '@/contract/views';
import { type ErrorCode, UndercroftError } from '@/core/errors';
import { isDiskFull } from '../db/reserve';
import { refusalOf } from './home';

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
  unavailable: 503,
  interrupted: 503,
};

const LARGEST_JSON = 8 * 1024 * 1024;
/** No request of the application nests deeper than a third of this. */
const DEEPEST_JSON = 24;
const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN_RECORD, CLOSE_RECORD] = [...'"\\[]{}'].map((c) => c.charCodeAt(0));

export interface Guarded<B, Q> {
  readonly body: B;
  readonly query: Q;
  readonly params: Readonly<Record<string, string>>;
  readonly request: Request;
}

interface Rules<B extends z.ZodType, Q extends z.ZodType> {
  /** Schema of a JSON body; without one the body is left unread, for streaming. */
  readonly body?: B;
  readonly query?: Q;
}

type Context = { params: Promise<Record<string, string>> };

/**
 * Wraps every route: refuses foreign hosts and origins (so that no other web page can reach the server of the person's
 * own machine, DNS rebinding included), limits and validates the input, and gives every error one shape.
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

function requireHome({ headers }: Request): void {
  const refusal = refusalOf({
    host: headers.get('host'),
    origin: headers.get('origin'),
    site: headers.get('sec-fetch-site'),
  });
  if (refusal !== null) throw new UndercroftError('forbidden', refusal);
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
  const bytes = Buffer.concat(pieces);
  if (isDeeperThan(bytes, DEEPEST_JSON))
    throw new UndercroftError('out-of-range', `A request is nested at most ${DEEPEST_JSON} deep.`, 'body');
  try {
    return JSON.parse(bytes.toString('utf8'));
  } catch {
    throw new UndercroftError('out-of-range', 'The body is not JSON.', 'body');
  }
}

/** Whether brackets outside strings nest deeper than this: checked before parsing. */
export function isDeeperThan(json: Uint8Array, most: number): boolean {
  let depth = 0;
  let inString = false;
  for (let i = 0; i < json.length; i++) {
    const byte = json[i];
    if (inString) {
      if (byte === BACKSLASH) i++;
      else if (byte === QUOTE) inString = false;
    } else if (byte === QUOTE) inString = true;
    else if (byte === OPEN_LIST || byte === OPEN_RECORD) {
      if (++depth > most) return true;
    } else if (byte === CLOSE_LIST || byte === CLOSE_RECORD) depth--;
  }
  return false;
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
  if ((error as { code?: string }).code?.startsWith('SQLITE_BUSY'))
    return errorAnswer(
      new UndercroftError('unavailable', 'The workspace is busy. What was sent was not done; try again.'),
    );
  if (isDiskFull(error)) {
    return Response.json(
      {
        error: {
          code: 'storage-full',
          message: 'The disk is full; nothing was changed. Free some space and try again.',
        },
      },
      { status: 507 },
    );
  }
  console.error(error);
  const answer: ErrorAnswer = {
    error: { code: 'internal', message: 'Something went wrong in the server; nothing was changed. Its log says more.' },
  };
  return Response.json(answer, { status: 500 });
}
