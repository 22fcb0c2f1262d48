import type { ErrorAnswer } from '@/contract/views';

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

export async function postJson<T>(path: string, body: unknown): Promise<T> {
  return answerOf<T>(
    await fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  );
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

/** This browser, for its own undo; it outlives restarts. And this page, to tell its own doing from another tab's. */
export function browserId(): string {
  const known = localStorage.getItem('undercroft.browser');
  if (known) return known;
  const made = crypto.randomUUID();
  localStorage.setItem('undercroft.browser', made);
  return made;
}

export const tabId = typeof crypto === 'undefined' ? '' : crypto.randomUUID();
