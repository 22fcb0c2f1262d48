import type { ErrorAnswer } from '@/contract/views';
import type { Levels } from '@/core/onset/silence';

/** An error answer of the server, with its message. */
export class RequestError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export async function getJson<T>(path: string): Promise<T> {
  return answerOf<T>(await fetch(path));
}

export async function postJson<T>(path: string, body: unknown, signal: AbortSignal | null = null): Promise<T> {
  const headers = { 'Content-Type': 'application/json' };
  return answerOf<T>(await fetch(path, { method: 'POST', headers, body: JSON.stringify(body), signal }));
}

export async function deleteAt<T>(path: string): Promise<T> {
  return answerOf<T>(await fetch(path, { method: 'DELETE' }));
}

/** Levels of a recording, for splitting at silence. */
export async function getLevels(recordingId: string): Promise<Levels> {
  const response = await fetch(`/api/recordings/${recordingId}/levels`);
  if (!response.ok) return answerOf<never>(response);
  const roomDb = response.headers.get('X-Room-Dbfs');
  return {
    step: Number(response.headers.get('X-Frames-A-Step')),
    roomDb: roomDb === null ? null : Number(roomDb),
    values: new Uint8Array(await response.arrayBuffer()),
  };
}

/** What the server answered; its error is thrown. */
export async function answerOf<T>(response: Response): Promise<T> {
  if (response.ok) return (await response.json()) as T;
  let error: ErrorAnswer['error'] = { code: 'internal', message: `The server answered ${response.status}.` };
  try {
    error = ((await response.json()) as ErrorAnswer).error;
  } catch {
    // The answer is not in the server's error shape: only the status is known.
  }
  throw new RequestError(error.code, error.message);
}

const BROWSER_COOKIE = 'undercroft-browser';
const TEN_YEARS_S = 315_360_000;

/**
 * Identifies this browser, so that undo reverses its own edits. Kept in a cookie: it outlives restarts and, unlike
 * local storage, is shared by all ports of the address.
 */
export function browserId(): string {
  const known = new RegExp(`(?:^|; )${BROWSER_COOKIE}=([0-9a-z-]{8,40})`).exec(document.cookie)?.[1];
  if (known) return known;
  const made = crypto.randomUUID();
  // biome-ignore lint/suspicious/noDocumentCookie: the cookie store API has no synchronous reading
  document.cookie = `${BROWSER_COOKIE}=${made}; path=/; max-age=${TEN_YEARS_S}; samesite=strict`;
  return made;
}

/** Identifies this page, to tell its own edits from another tab's. */
export const tabId = typeof crypto === 'undefined' ? '' : crypto.randomUUID();
