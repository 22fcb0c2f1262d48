import type { ErrorAnswer } from '@/contract/views';
import type { Levels } from '@/core/onset/silence';

/** A request that the server answered with an error, in its words. */
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

/** What splitting at silence looks at. */
export async function getLevels(recordingId: string): Promise<Levels> {
  const response = await fetch(`/api/recordings/${recordingId}/levels`);
  if (!response.ok) return answerOf<never>(response);
  return {
    step: Number(response.headers.get('X-Frames-A-Step')),
    values: new Uint8Array(await response.arrayBuffer()),
  };
}

async function answerOf<T>(response: Response): Promise<T> {
  if (response.ok) return (await response.json()) as T;
  let error: ErrorAnswer['error'] = { code: 'internal', message: `The server answered ${response.status}.` };
  try {
    error = ((await response.json()) as ErrorAnswer).error;
  } catch {
    // Not the server's own error shape: the status has to do.
  }
  throw new RequestError(error.code, error.message);
}

const BROWSER_COOKIE = 'undercroft-browser';
const TEN_YEARS_S = 315_360_000;

/**
 * This browser, for its own undo. Kept in a cookie, since cookies outlive restarts and - unlike the page's own storage -
 * belong to the address whatever its port is.
 */
export function browserId(): string {
  const known = new RegExp(`(?:^|; )${BROWSER_COOKIE}=([0-9a-z-]{8,40})`).exec(document.cookie)?.[1];
  if (known) return known;
  const made = crypto.randomUUID();
  // biome-ignore lint/suspicious/noDocumentCookie: the cookie store API has no synchronous reading
  document.cookie = `${BROWSER_COOKIE}=${made}; path=/; max-age=${TEN_YEARS_S}; samesite=strict`;
  return made;
}

/** This page, to tell its own doing from another tab's. */
export const tabId = typeof crypto === 'undefined' ? '' : crypto.randomUUID();
