import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { writeWav } from '../../src/core/format/wav';
import type { Plan } from '../../src/core/recording/plan';
import { demoWorkspace, remove, type Server, scratch, startServer, undercroft } from '../harness';
import { Client } from './client';

let folder: string;
let server: Server;
let client: Client;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(demoWorkspace(folder));
  client = new Client(server.address);
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const sluice = async () => {
  const recording = (await client.recordings()).find((r) => r.title === 'Sluice loop');
  if (!recording) throw new Error('The demo has no Sluice loop.');
  return recording;
};

test('levels come as one byte for every 2 ms, and none where nothing has been listened to', async () => {
  const { id, frames, sampleRate } = await sluice();
  const response = await fetch(`${server.address}/api/recordings/${id}/levels`);
  const step = Number(response.headers.get('X-Frames-A-Step'));
  expect(step).toBe(Math.round(0.002 * sampleRate));
  expect((await response.arrayBuffer()).byteLength).toBe(Math.ceil(frames / step));
  const none = await client.ask('GET', '/api/recordings/no-such-recording/levels');
  expect(none.status).toBe(404);
});

test('a slice is named, locked and told to keep sound; what is no such thing is refused with the field', async () => {
  const { id } = await sluice();
  const cut = await client.cut(id);
  const slice = cut.slices[0];
  if (!slice) throw new Error('The loop has no slices.');
  const update = (set: Record<string, unknown>) =>
    client.edit('changed a slice', [
      { op: 'update', doc: 'slice', id: slice.id, rev: client.rev('slice', slice.id), set },
    ]);
  await update({ name: '  Wet thud ', locked: true, keepFrame: 20000 });
  expect((await client.cut(id)).slices[0]).toMatchObject({ name: 'Wet thud', locked: true, keepFrame: 20000 });
  await expect(update({ locked: 'yes' })).rejects.toThrow(/slice\.locked/);
  await expect(update({ name: 'x'.repeat(121) })).rejects.toThrow(/slice\.name/);
  await client.step('undo');
  expect((await client.cut(id)).slices[0]).toMatchObject({ name: '', locked: false, keepFrame: null });
});

test('a cutting plan is made, listed, removed and brought back; one that says nonsense is refused', async () => {
  const { id } = await sluice();
  const { cut } = await client.cut(id);
  if (!cut) throw new Error('The loop was not cut.');
  const { id: _id, rev: _rev, pad: _pad, ...split } = cut;
  const value = { name: 'Eighths, short', split: { ...split, method: 'grid' }, pad: { fadeOutMs: 12, mode: 'held' } };
  const plans = () => client.get<Plan[]>('/api/plans');
  await client.edit('kept a plan', [{ op: 'create', doc: 'plan', id: 'plan-test-0001', value }]);
  expect(await plans()).toEqual([{ id: 'plan-test-0001', rev: 1, ...value }]);
  await client.edit('removed a plan', [{ op: 'remove', doc: 'plan', id: 'plan-test-0001', rev: 1 }]);
  expect(await plans()).toEqual([]);
  await client.step('undo');
  expect(await plans()).toMatchObject([value]);
  const wrong = { ...value, split: { ...value.split, noteValue: '1/7' } };
  const edit = client.edit('kept a plan', [{ op: 'create', doc: 'plan', id: 'plan-test-0002', value: wrong }]);
  await expect(edit).rejects.toThrow(/plan\.split\.noteValue/);
});

test('what an older method listened to is listened to again at the next start; slices stay as they are', async () => {
  const { id } = await sluice();
  const before = (await client.cut(id)).slices;
  await server.kill();
  const db = new Database(server.workspace);
  db.prepare("UPDATE analysis SET version = 1, candidates = x'00', levels = NULL").run();
  db.close();
  server = await startServer(server.workspace);
  client = new Client(server.address);
  const { slices, candidates } = await client.cut(id);
  expect(slices).toEqual(before);
  expect(candidates.length).toBeGreaterThan(10);
  expect(undercroft('check', '--workspace', server.workspace)).toMatch(/all sound/);
});

test.each(['attack', 'silence', 'grid'])('the command line gives at most so many slices by %s', (way) => {
  const bursts = Float32Array.from(
    { length: 4 * 44100 },
    (_, i) => Math.sin(i * 0.2) * Math.exp(-(i % 22050) / 1500) * (i % 22050 < 12000 ? 0.6 : 0),
  );
  const file = join(folder, 'eight bursts.wav');
  writeFileSync(file, writeWav({ sampleRate: 44100, channels: [bursts] }, 's16'));
  const slices = (...more: string[]) =>
    (
      JSON.parse(
        undercroft(
          'onsets',
          file,
          '--json',
          '--no-listen',
          '--split',
          way,
          '--tempo',
          '120',
          '--note-value',
          '1/4',
          ...more,
        ),
      ) as {
        slices: unknown[];
      }
    ).slices.length;
  expect(slices()).toBe(8);
  for (const most of [1, 5]) expect(slices('--most', String(most))).toBe(most);
});
