import { mkdtempSync } from 'node:fs';
import { type AddressInfo, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../harness';

test('a request that comes as soon as the port is open is answered', async () => {
  const port = await freePort();
  const starting = startServer(join(mkdtempSync(join(tmpdir(), 'undercroft-')), 'workspace'), port);
  const answer = async (): Promise<Response> => {
    try {
      return await fetch(`http://127.0.0.1:${port}/api/kits`, { signal: AbortSignal.timeout(30_000) });
    } catch (error) {
      if ((error as Error).name === 'TimeoutError') throw error;
      return answer();
    }
  };
  const first = await answer();
  await (await starting).kill();
  expect(first.status).toBe(200);
}, 60_000);

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}
