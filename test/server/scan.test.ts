import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ScanProgress, WatchedFolder } from '../../src/contract/imports';
import { UndercroftError } from '../../src/core/errors';
import { writeWav } from '../../src/core/format/wav';
import { type Db, openWorkspace } from '../../src/server/db/open';
import { readable } from '../../src/server/folders/found';
import { scanFolder } from '../../src/server/folders/scan';
import { forgetFolder, listFolders, watchFolder } from '../../src/server/folders/store';
import type { Imports } from '../../src/server/jobs/imports';
import { remove, type Server, scratch, soon, startServer } from '../harness';
import { Client } from './client';

let folder: string;
let db: Db;

beforeAll(() => {
  folder = scratch();
  db = openWorkspace(join(folder, 'scan.db'));
});

afterAll(() => {
  db.close();
  remove(folder);
});

function sound(seed: number): Uint8Array<ArrayBuffer> {
  return writeWav(
    { sampleRate: 44100, channels: [Float32Array.from({ length: 900 }, (_, i) => Math.sin(i * seed))] },
    's16',
  );
}

function folderOf(name: string, ...files: string[]): string {
  const path = join(folder, name);
  mkdirSync(path);
  for (const [i, file] of files.entries()) writeFileSync(join(path, file), sound(1 + i / 7));
  return watchFolder(db, { path, takeAs: 'recording', prepare: [] });
}

/** Stands for the threads that take files in: reads each to its end, then does what it is told by its name. */
function importing(does: Record<string, () => void> = {}) {
  const seen: string[] = [];
  const imports: Pick<Imports, 'import'> = {
    import: async (options, _bytes, pieces, watch = {}) => {
      seen.push(options.fileName);
      try {
        for await (const _ of pieces);
      } catch (error) {
        throw watch.brokenOff?.(error);
      }
      does[options.fileName]?.();
      const id = `rec-${options.fileName.replace(/\W/g, '-')}`;
      db.prepare(
        `INSERT OR IGNORE INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, frames, arrived_at)
         VALUES (?, 'x', 'ready', 'a.wav', 's16', 16, 44100, 1, 9, 1)`,
      ).run(id);
      return { recordingId: id, title: 'x', duplicate: false, warnings: [] };
    },
  };
  return { seen, helpers: { imports, wake: () => {} } };
}

async function scan(id: string, does: Record<string, () => void> = {}) {
  const told: ScanProgress[] = [];
  const { seen, helpers } = importing(does);
  await scanFolder(db, helpers, id, (progress) => told.push(progress));
  const last = told.at(-1) as ScanProgress;
  return { seen, told, last, failed: told.flatMap((t) => t.failed.map((f) => f.reason)) };
}

const throwing =
  (...args: ConstructorParameters<typeof UndercroftError>) =>
  () => {
    throw new UndercroftError(...args);
  };

test('what lies in a file is not tried again until the file changes; reasons that pass are, and each is said as it was', async () => {
  const id = folderOf('reasons', 'a.wav', 'b.wav', 'c.wav', 'd.wav');
  const path = join(folder, 'reasons');
  const first = await scan(id, {
    'a.wav': throwing('damaged-audio', 'It is damaged.'),
    'b.wav': () => rmSync(join(path, 'c.wav')),
    'd.wav': () => {
      throw new Error('the disk shook');
    },
  });
  expect(first.failed).toEqual(['It is damaged.', 'The file cannot be read: it is no longer there.', 'the disk shook']);
  // Opened once each: what cannot be read now is left to the next scan.
  expect(first.seen).toEqual(['a.wav', 'b.wav', 'c.wav', 'd.wav']);
  expect(first.last).toMatchObject({ taken: 1, failedCount: 3, finished: true });
  writeFileSync(join(path, 'c.wav'), sound(9));
  const second = await scan(id);
  expect(second.seen).toEqual(['c.wav', 'd.wav']);
  expect((await scan(id)).seen).toEqual([]);
  expect(listFolders(db).find((f) => f.id === id)).toMatchObject({ fileCount: 3, failedCount: 1 });
});

test('a full disk ends a scan, which says so; the next one goes on from there', async () => {
  const id = folderOf('full', 'a.wav', 'b.wav', 'c.wav');
  const first = await scan(id, { 'b.wav': throwing('storage-full', 'The disk is full.') });
  expect([first.seen, first.failed]).toEqual([['a.wav', 'b.wav'], ['The disk is full.']]);
  expect((await scan(id)).seen).toEqual(['b.wav', 'c.wav']);
});

test('a file that was broken off by a fault of the server is begun again by itself', async () => {
  const id = folderOf('broken', 'a.wav');
  let tries = 0;
  const { seen, last } = await scan(id, {
    'a.wav': () => {
      if (++tries < 3) throw new UndercroftError('interrupted', 'broken off');
    },
  });
  expect([seen, last.taken, last.failedCount]).toEqual([['a.wav', 'a.wav', 'a.wav'], 1, 0]);
});

test('a folder or a recording that goes while it is scanned ends in no error', async () => {
  const id = folderOf('gone', 'a.wav', 'b.wav');
  const { failed } = await scan(id, { 'a.wav': () => forgetFolder(db, id) });
  expect(failed).toEqual([]);
  expect(listFolders(db).some((f) => f.id === id)).toBe(false);
});

test('what fails is told once, and a scan tells of itself a few times a second at most', async () => {
  const names = Array.from({ length: 400 }, (_, i) => `${String(i).padStart(4, '0')}.wav`);
  const id = folderOf('many', ...names);
  const { told, last } = await scan(id, Object.fromEntries(names.map((name) => [name, throwing('not-audio', name)])));
  expect(told.flatMap((t) => t.failed)).toHaveLength(400);
  expect(last).toMatchObject({ done: 400, failedCount: 400 });
  expect(told.length).toBeLessThan(40);
  expect(JSON.stringify(told).length).toBeLessThan(400 * 150);
});

test('letters and bytes that are none', () => {
  expect(readable(Buffer.from('Trommel ü 💥.wav'))).toBe('Trommel ü 💥.wav');
  expect(readable(Buffer.from([0x63, 0xe9, 0x2e, 0x77]))).toBe('c%E9.w');
  expect(readable(Buffer.from([0xff, 0xc3, 0xbc, 0xf0, 0x9f]))).toBe('%FFü%F0%9F');
});

test('a name that is no UTF-8 stops nothing: its file comes in, as do all others', async () => {
  const path = join(folder, 'bytes');
  mkdirSync(path);
  writeFileSync(join(path, 'plain.wav'), sound(3.3));
  writeFileSync(Buffer.concat([Buffer.from(`${path}/caf`), Buffer.from([0xe9]), Buffer.from('.wav')]), sound(4.4));
  writeFileSync(join(path, 'zz last.wav'), sound(5.5));
  const server: Server = await startServer(join(folder, 'bytes.db'));
  const client = new Client(server.address);
  const { id } = (await client.post('/api/folders', { path, takeAs: 'recording', prepare: [] })).body as { id: string };
  const scanned = async () => {
    await client.post(`/api/folders/${id}/scan`, {});
    await soon(async () => expect((await client.get<WatchedFolder[]>('/api/folders'))[0]?.scannedAt).not.toBeNull());
  };
  await scanned();
  await soon(async () =>
    expect((await client.recordings()).map((r) => r.title).sort()).toEqual(['caf%E9', 'plain', 'zz last']),
  );
  renameSync(path, `${path}-away`);
  await server.kill();
});
