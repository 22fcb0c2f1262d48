import { join } from 'node:path';
import type { KitDocs, KitListEntry, ListedHit, RecordingView, SuppliedAnswer } from '../../src/contract/views';
import { STROKES } from '../../src/core/supplied/starter-kit';
import { remove, type Server, scratch, startServer } from '../harness';
import { Client } from './client';

let folder: string;
let server: Server;
let client: Client;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(join(folder, 'workspace.db'));
  client = new Client(server.address);
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const put = async () =>
  (await client.post(`/api/supplied?browser=${client.browser}`, {})).body as unknown as SuppliedAnswer;

test('the starter kit comes with its hits, marked as supplied, free to share, once, and Undo takes it away', async () => {
  const { kitId, hits, known } = await put();
  expect(known).toBe(false);
  expect(hits).toBeGreaterThanOrEqual(24);
  const recordings = await client.recordings();
  expect(recordings.every(({ supplied, rightsKind }: RecordingView) => supplied && rightsKind === 'cc0')).toBe(true);
  const [entry] = await client.get<KitListEntry[]>('/api/kits');
  expect(entry).toMatchObject({ id: kitId, supplied: true, padCount: 32 });
  const kit = await client.get<KitDocs>(`/api/kits/${kitId}`);
  // Every velocity plays a hit of its own on every pad, and hats choke one another.
  for (const pad of kit.pads)
    for (const { low, high } of STROKES)
      expect(
        kit.layers.filter(
          ({ padId, lowVelocity, highVelocity }) => padId === pad.id && lowVelocity === low && highVelocity === high,
        ),
      ).toHaveLength(1);
  const hats = kit.pads.filter(({ family }) => family === 'closed hat' || family === 'open hat');
  expect(new Set(hats.map(({ chokeGroup }) => chokeGroup))).toEqual(new Set([1]));
  expect(await put()).toEqual({ kitId, name: entry?.name, hits: 0, known: true });
  await client.step('undo');
  expect(await client.get<KitListEntry[]>('/api/kits')).toEqual([]);
  expect(await client.get<ListedHit[]>('/api/hits')).toEqual([]);
  // Put in again, its recordings are those that are there.
  const [again, twin] = await Promise.all([put(), put()]);
  expect([again.known, twin.known].sort()).toEqual([false, true]);
  expect(again.hits + twin.hits).toBe(hits);
  expect(await client.get<KitListEntry[]>('/api/kits')).toHaveLength(1);
  expect(await client.recordings()).toHaveLength(recordings.length);
});
