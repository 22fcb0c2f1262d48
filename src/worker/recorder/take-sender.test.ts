import { TakeSender } from './take-sender';

const plan = {
  ...{ sessionId: 'session-of-test', number: 1, title: 'Desk 1', tempoBpm: null, heard: ['recording-1'] },
  source: { input: 'device' as const, label: 'a microphone', latencyMs: null },
};
const answered = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
const original = globalThis.fetch;
afterEach(() => {
  globalThis.fetch = original;
});

/** Sends one short take to a server that answers by `serve`; resolves with how it ended. */
function sent(serve: (path: string) => Response, ends: boolean): Promise<unknown> {
  globalThis.fetch = ((path: string) => Promise.resolve(serve(path))) as typeof fetch;
  return new Promise((resolve) => {
    const sender = new TakeSender(() => plan, {
      stored: (take) => resolve(take),
      failed: (message, runs) => resolve({ message, runs }),
    });
    sender.begin(48_000, 1);
    sender.take([new Float32Array(1000)]);
    if (ends) sender.end(null);
  });
}

test('a take that the server refuses for good is reported, and that it still runs', async () => {
  const refuse = () =>
    answered(400, { error: { code: 'out-of-range', message: 'A name has at most 120 characters.' } });
  expect(await sent(refuse, false)).toEqual({ message: 'A name has at most 120 characters.', runs: true });
});

test('a take that the server ended meanwhile goes on in another one with what was not stored', async () => {
  const paths: string[] = [];
  const serve = (path: string) => {
    paths.push(path.replace(/[0-9a-f-]{36}/, 'ID'));
    if (path.includes('/pieces') && paths.filter((one) => one.includes('/pieces')).length === 1)
      return answered(404, { error: { code: 'not-found', message: 'The take has ended.' } });
    return answered(200, { recordingId: 'recording-2', title: 'Desk 1, gone on', duplicate: false, warnings: [] });
  };
  expect(await sent(serve, true)).toMatchObject({ number: 1, frames: 1000, input: 'device' });
  expect(paths).toEqual([
    '/api/takes',
    '/api/takes/ID/pieces?from=0',
    '/api/takes',
    '/api/takes/ID/pieces?from=0',
    '/api/takes/ID/end',
  ]);
});
