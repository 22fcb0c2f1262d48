import { join } from 'node:path';
import { remove, type Server, scratch, startServer } from '../harness';
import { Client, errorOf } from './client';

let folder: string;
let server: Server;
let client: Client;
let host: string;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(join(folder, 'workspace.db'));
  client = new Client(server.address);
  host = server.address.replace('http://', '');
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const edit = { browser: 'test-browser-0001', label: 'a kit', changes: [] as unknown[] };
const json = { 'Content-Type': 'application/json' };

test('the server answers on this machine alone, and under its own names', async () => {
  for (const name of [host, host.replace('127.0.0.1', 'localhost')])
    expect((await client.ask('GET', '/api/kits', { Host: name })).status).toBe(200);
  for (const name of ['undercroft.example', `undercroft.example:${host.split(':')[1]}`, '127.0.0.1.example']) {
    const { status, body } = await client.ask('GET', '/api/kits', { Host: name });
    expect([name, status]).toEqual([name, 403]);
    expect(errorOf(body)).toMatchObject({ code: 'forbidden' });
  }
});

test.each([
  'GET /api/recordings',
  'POST /api/edits',
  'POST /api/history',
  'POST /api/recordings?name=x',
  'GET /api/events',
])('a foreign origin or site is refused: %s', async (line) => {
  const [method, path] = line.split(' ') as [string, string];
  const ways: Record<string, string>[] = [
    { Origin: 'http://undercroft.example' },
    { Origin: 'null' },
    { Origin: `https://${host}` },
    { 'Sec-Fetch-Site': 'cross-site' },
  ];
  for (const headers of ways) {
    const { status, body } = await client.ask(method, path, { ...json, ...headers }, method === 'POST' ? ['{}'] : []);
    expect(status).toBe(403);
    expect(errorOf(body).code).toBe('forbidden');
  }
});

test('its own origin is answered', async () => {
  const { status } = await client.ask('GET', '/api/kits', { Origin: server.address, 'Sec-Fetch-Site': 'same-origin' });
  expect(status).toBe(200);
});

test('what is wrong with a request is said, with its place', async () => {
  const wrong: [unknown, RegExp, string | undefined][] = [
    ['{"browser":', /not JSON/, 'body'],
    [{ ...edit, browser: '../..' }, /body\.browser/, 'body.browser'],
    [{ ...edit }, /body\.changes/, 'body.changes'],
    [
      { ...edit, changes: [{ op: 'update', doc: 'migration', id: 'test-0000', rev: 1, set: {} }] },
      /body\.changes/,
      'body.changes.0.doc',
    ],
    [
      { ...edit, changes: [{ op: 'create', doc: 'kit', id: 'test-0000', value: { name: '' } }] },
      /kit\.name/,
      'kit.name',
    ],
  ];
  for (const [body, message, path] of wrong) {
    const { status, body: answer } = await client.ask('POST', '/api/edits', json, [
      typeof body === 'string' ? body : JSON.stringify(body),
    ]);
    expect(status).toBe(400);
    expect(errorOf(answer).message).toMatch(message);
    expect(errorOf(answer).path).toBe(path);
  }
});

test('a body beyond 8 MB is cut off, whether or not it says so', async () => {
  const piece = ' '.repeat(1024 * 1024);
  const { status, body } = await client.ask('POST', '/api/edits', json, Array<string>(9).fill(piece));
  expect(status).toBe(413);
  expect(errorOf(body).message).toMatch(/at most 8 MB/);
});

test('what is not there is answered with 404, and never with a file of the machine', async () => {
  const nowhere = '00000000-0000-0000-0000-000000000000';
  for (const path of [
    `/api/recordings/${nowhere}/cut`,
    `/api/kits/${nowhere}`,
    `/api/kits/${nowhere}/export`,
    `/api/recordings/..%2f..%2fetc/pcm?start=0&frames=1`,
  ])
    expect((await client.ask('GET', path)).status).toBe(404);
});

test('every answer isolates the page, so that it may share memory with the audio thread', async () => {
  const response = await fetch(`${server.address}/recordings`);
  expect(response.headers.get('cross-origin-opener-policy')).toBe('same-origin');
  expect(response.headers.get('cross-origin-embedder-policy')).toBe('require-corp');
});
