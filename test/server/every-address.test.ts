import { readdirSync, readFileSync, statSync } from 'node:fs';
import { request } from 'node:http';
import { connect } from 'node:net';
import { join, relative } from 'node:path';
import { isDeeperThan } from '../../src/server/http/guard';
import { remove, type Server, scratch, soon, startServer } from '../harness';
import { Client, errorOf } from './client';

let folder: string;
let server: Server;
let host: string;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(join(folder, 'workspace.db'));
  host = server.address.replace('http://', '');
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

interface Address {
  readonly method: string;
  readonly path: string;
}

/** Every page and every handler of every route, as the folders of the application say. */
function everyAddress(): Address[] {
  const app = join(process.cwd(), 'src/app');
  const found: Address[] = [];
  const walk = (dir: string) => {
    for (const name of readdirSync(dir)) {
      const path = join(dir, name);
      const at = `/${relative(app, dir)}`.replace(/\[[^\]]+\]/g, '00000000-0000-0000-0000-000000000000');
      if (statSync(path).isDirectory()) walk(path);
      else if (name === 'page.tsx') found.push({ method: 'GET', path: at });
      else if (name === 'route.ts')
        for (const [, method] of readFileSync(path, 'utf8').matchAll(
          /export (?:const|async function|function) (GET|POST|PUT|PATCH|DELETE|HEAD|OPTIONS)\b/g,
        ))
          found.push({ method: method as string, path: at });
    }
  };
  walk(app);
  return found;
}

/** What is not made by a page or a route: files of the application, and addresses that lead nowhere. */
const OTHERS: Address[] = [
  '/arch.svg',
  '/engine/worklet.js',
  '/nowhere',
  '/api/nowhere',
  '/%2e%2e/%2e%2e/etc/passwd',
].map((path) => ({ method: 'GET', path }));

const ALL = [...everyAddress(), ...OTHERS];

interface Seen {
  readonly status: number;
  readonly headers: Record<string, string | string[] | undefined>;
  readonly text: string;
}

/** Asks, and hears no more than the beginning: the event stream has no end. */
function ask({ method, path }: Address, headers: Record<string, string> = {}): Promise<Seen> {
  return new Promise((resolve, reject) => {
    const sent = request(`${server.address}${path}`, { method, headers, agent: false }, (response) => {
      let text = '';
      const done = () => {
        resolve({ status: response.statusCode ?? 0, headers: response.headers, text });
        sent.destroy();
      };
      response.on('data', (part: Buffer) => {
        text += part.toString();
        if (/event-stream/.test(response.headers['content-type'] ?? '')) done();
      });
      response.on('end', done);
    });
    sent.on('error', reject);
    if (method === 'POST') sent.setHeader('Content-Type', 'application/json');
    sent.end(method === 'POST' ? '{}' : undefined);
  });
}

test('there are pages and routes to be looked at', () => {
  expect(everyAddress().map(({ method, path }) => `${method} ${path}`)).toEqual(
    expect.arrayContaining([
      'GET /recordings',
      'GET /hits',
      'GET /api/events',
      'POST /api/edits',
      'POST /api/hits/remove',
    ]),
  );
  expect(everyAddress().length).toBeGreaterThan(25);
});

test.each(ALL)('$method $path: the headers that protect a page, and no frame around it', async (address) => {
  const { status, headers } = await ask(address);
  expect([address, status < 500]).toEqual([address, true]);
  const policy = String(headers['content-security-policy']);
  for (const rule of ["default-src 'self'", "frame-ancestors 'none'", "object-src 'none'", "base-uri 'none'"])
    expect(policy.split('; ')).toContain(rule);
  // No script but the application's own and those marked by this answer.
  expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]{24}' 'wasm-unsafe-eval'(;|$)/);
  expect(headers).toMatchObject({
    'cross-origin-opener-policy': 'same-origin',
    'cross-origin-embedder-policy': 'require-corp',
    'cross-origin-resource-policy': 'same-origin',
    'x-content-type-options': 'nosniff',
    'x-frame-options': 'DENY',
    'referrer-policy': 'no-referrer',
  });
  expect(headers['x-powered-by']).toBeUndefined();
});

test.each(ALL)('$method $path: foreign hosts, origins and sites are refused', async (address) => {
  const foreign: Record<string, string>[] = [
    { Host: 'undercroft.example' },
    { Host: `127.0.0.1.example:${host.split(':')[1]}` },
    { Origin: 'http://undercroft.example' },
    { Origin: `http://127.0.0.1:1` },
    { Origin: 'null' },
    { 'Sec-Fetch-Site': 'cross-site' },
    { 'Sec-Fetch-Site': 'same-site' },
    { 'Sec-Fetch-Site': 'same-site', 'Sec-Fetch-Mode': 'no-cors' },
  ];
  for (const headers of foreign) {
    const { status, text } = await ask(address, headers);
    expect([headers, status]).toEqual([headers, 403]);
    expect(errorOf(JSON.parse(text)).code).toBe('forbidden');
  }
});

test('a link from elsewhere opens a page and starts nothing; of a route it is refused', async () => {
  const link = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate', 'Sec-Fetch-Dest': 'document' };
  expect(
    (await ask({ method: 'GET', path: '/slice/00000000-0000-0000-0000-000000000000?view=shelves' }, link)).status,
  ).toBe(200);
  expect((await ask({ method: 'GET', path: '/api/kits' }, link)).status).toBe(403);
  expect((await ask({ method: 'POST', path: '/recordings' }, link)).status).toBe(403);
});

test('scripts of a page are marked for this answer alone', async () => {
  const marks = async () => {
    const { headers, text } = await ask({ method: 'GET', path: '/recordings' });
    const nonce = /'nonce-([^']+)'/.exec(String(headers['content-security-policy']))?.[1];
    const inside = [...text.matchAll(/<script(?![^>]*\bsrc=)([^>]*)>/g)].map(([, attributes]) => attributes ?? '');
    expect(inside.length).toBeGreaterThan(1);
    for (const attributes of inside) expect(attributes).toContain(`nonce="${nonce}"`);
    return nonce;
  };
  expect(await marks()).not.toBe(await marks());
});

test.each(['/%E0%A4%A', '/api/kits/%', '/slice/%ff'])('an address such as %s is refused in words', async (path) => {
  const { status, text } = await ask({ method: 'GET', path });
  expect([status, errorOf(JSON.parse(text)).code]).toEqual([400, 'out-of-range']);
});

test('what is nested too deep, or is much at once, holds nobody up', async () => {
  const client = new Client(server.address);
  const json = { 'Content-Type': 'application/json' };
  const deep = `{"browser":"test-browser-0001","label":"x","changes":${'['.repeat(4e6)}${']'.repeat(4e6)}}`;
  const kits = (from: number) => ({
    browser: 'test-browser-0001',
    label: 'a thousand kits',
    changes: Array.from({ length: 1000 }, (_, i) => ({
      op: 'create',
      doc: 'kit',
      id: `kit-${String(from + i).padStart(8, '0')}`,
      value: { name: `Kit ${from + i} ü` },
    })),
  });
  const took = async (work: () => Promise<{ status: number }>) => {
    const at = performance.now();
    const [{ status }] = await Promise.all([work(), client.get('/api/plans')]);
    return [status, performance.now() - at < 2000];
  };
  expect(await took(() => client.ask('POST', '/api/edits', json, [deep]))).toEqual([400, true]);
  for (const from of [0, 1000]) expect(await took(() => client.post('/api/edits', kits(from)))).toEqual([200, true]);
});

test('depth is counted outside of strings only', () => {
  const bytes = (text: string) => new TextEncoder().encode(text);
  expect(isDeeperThan(bytes('[[[]]]'), 3)).toBe(false);
  expect(isDeeperThan(bytes('[[[[]]]]'), 3)).toBe(true);
  expect(isDeeperThan(bytes('["[[[[\\"[[[["]'), 3)).toBe(false);
  expect(isDeeperThan(bytes('[],[],[],[],{}'), 1)).toBe(false);
});

test('readers of events that read nothing are cut off, and hold no memory', async () => {
  const client = new Client(server.address);
  const memory = () => 1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1]);
  const wide = Array.from({ length: 1500 }, (_, i) => ({
    op: 'create' as const,
    doc: 'kit' as const,
    id: `kit-wide-${String(i).padStart(8, '0')}`,
    value: { name: `Wide ${i}` },
  }));
  // Each of these is told to every reader with all that it touched, some 150 kB.
  await client.edit('wide', wide);
  const steps = async (count: number) => {
    for (let n = 0; n < count; n++) await client.step(n % 2 === 0 ? 'undo' : 'redo');
  };
  // What the work itself takes is there before anybody stalls.
  await steps(20);
  let cut = 0;
  const [, port] = host.split(':');
  const stalled = Array.from({ length: 10 }, () => {
    const socket = connect(Number(port), '127.0.0.1');
    socket.write(`GET /api/events HTTP/1.1\r\nHost: ${host}\r\n\r\n`);
    socket.pause();
    socket.on('close', () => cut++).on('error', () => {});
    return socket;
  });
  const before = memory();
  // Kept for all of them it would be 120 MB.
  await steps(80);
  expect(memory() - before).toBeLessThan(100e6);
  for (const socket of stalled) socket.resume();
  await soon(() => expect(cut).toBe(10));
});
