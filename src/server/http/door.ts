import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { ErrorAnswer } from '@/contract/views';
import { refusalOf } from './home';

/**
 * Sent with every answer. Cross-origin isolation gives the page shared memory, from which the audio thread reads
 * samples and events (WHATWG HTML, "cross-origin isolated").
 */
const HEADERS: Readonly<Record<string, string>> = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'no-referrer',
  'Permissions-Policy': 'camera=(), geolocation=(), payment=(), usb=()',
};

/**
 * What a page may load and run (W3C Content Security Policy Level 3). Scripts are the application's own, inline ones
 * marked by a nonce; `wasm-unsafe-eval` allows the kernel to be compiled. Inline styles are in use, so styles are not
 * restricted to sheets.
 */
export function contentPolicy(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/**
 * Runs before all other handlers, for pages and files too: sets headers, and answers foreign or malformed requests.
 * Returns whether to continue.
 */
export function atTheDoor(request: IncomingMessage, response: ServerResponse): boolean {
  for (const [name, value] of Object.entries(HEADERS)) response.setHeader(name, value);
  const policy = contentPolicy(randomBytes(16).toString('base64'));
  response.setHeader('Content-Security-Policy', policy);
  // Next reads the nonce for its own scripts from here.
  request.headers['content-security-policy'] = policy;
  tellLength(response);
  const path = (request.url ?? '/').split('?')[0] as string;
  const reading = request.method === 'GET' || request.method === 'HEAD';
  const { headers } = request;
  const refusal = refusalOf({
    host: headers.host ?? null,
    origin: headers.origin ?? null,
    site: one(headers['sec-fetch-site']),
    navigates: reading && !path.startsWith('/api/') && one(headers['sec-fetch-mode']) === 'navigate',
  });
  if (refusal !== null) {
    refuse(response, 403, { code: 'forbidden', message: refusal });
    return false;
  }
  if (!isReadable(request.url ?? '/')) {
    const message = 'The address is not properly encoded: a percent sign is followed by two digits of UTF-8.';
    refuse(response, 400, { code: 'out-of-range', message, path: 'address' });
    return false;
  }
  return true;
}

/** Header in which a route declares the length of a stream. */
export const LENGTH_HEADER = 'X-Stream-Length';

/** Next drops the length of every stream (`send-response.js`); downloads need it for their progress. */
function tellLength(response: ServerResponse): void {
  const writeHead = response.writeHead.bind(response) as (...args: unknown[]) => ServerResponse;
  response.writeHead = ((...args: unknown[]) => {
    const bytes = response.getHeader(LENGTH_HEADER);
    if (bytes !== undefined) {
      response.removeHeader(LENGTH_HEADER);
      response.setHeader('Content-Length', bytes);
    }
    return writeHead(...args);
  }) as ServerResponse['writeHead'];
}

function one(header: string | readonly string[] | undefined): string | null {
  return typeof header === 'string' ? header : null;
}

function isReadable(url: string): boolean {
  try {
    decodeURIComponent(url.split('?')[0] as string);
    return true;
  } catch {
    return false;
  }
}

function refuse(response: ServerResponse, status: number, error: ErrorAnswer['error']): void {
  const answer: ErrorAnswer = { error };
  response.writeHead(status, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store', Connection: 'close' });
  response.end(JSON.stringify(answer));
}
