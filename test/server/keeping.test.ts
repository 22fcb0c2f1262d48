import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { writeWav } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { checkWorkspace } from '../../src/server/checking/check';
import { openWorkspace } from '../../src/server/db/open';
import { keepReserve } from '../../src/server/db/reserve';
import { commitEdit } from '../../src/server/history/commit';
import { undoOrRedo } from '../../src/server/history/undo';
import { importBytes } from '../../src/server/importing/intake';
import { plainImport } from '../../src/server/importing/options';
import { claimForRemoval, removeArriving } from '../../src/server/importing/removal';
import { PROGRAM, remove, type Server, scratch, soon, startServer, undercroft } from '../harness';
import { Client, errorOf } from './client';

let folder: string;

beforeAll(() => {
  folder = scratch();
});

afterAll(() => remove(folder));

function sound(seed: number, frames = 9000): Uint8Array<ArrayBuffer> {
  const samples = Float32Array.from({ length: frames }, (_, i) => Math.sin(i * seed) * Math.exp(-i / 2000));
  return writeWav({ sampleRate: 44100, channels: [samples] }, 's16');
}

const hitOf = (id: string, recordingId: string, endFrame = 500) =>
  ({
    op: 'create',
    doc: 'hit',
    id,
    value: { ...HIT_INITIAL, name: id, family: null, recordingId, startFrame: 0, endFrame, sliceId: null },
  }) as const;
const browser = 'test-browser-0001';

/** A workspace with one recording that lies in the bin, and a hit of it that was removed and can come back by undo. */
async function binned(name: string) {
  const path = join(folder, name);
  const db = openWorkspace(path);
  const { recordingId: id } = await importBytes(db, plainImport('loop.wav'), sound(0.1));
  const { touched } = commitEdit(db, { browser, label: 'a hit', changes: [hitOf('hit-0000-0001', id)] });
  commitEdit(db, {
    browser,
    label: 'removed it',
    changes: [{ op: 'remove', doc: 'hit', id: 'hit-0000-0001', rev: touched[0]?.rev ?? 0 }],
  });
  db.prepare('UPDATE recording SET binned_at = 1').run();
  return { path, db, id };
}

describe('a recording on its way out', () => {
  test('is not there for anyone: no undo and no edit makes a hit, slice or mark of it again', async () => {
    const { db, id } = await binned('claimed.db');
    claimForRemoval(db, id);
    expect(() => undoOrRedo(db, { browser, direction: 'undo' })).toThrow(/removed for good; nothing can be made of it/);
    const refused = (change: Parameters<typeof commitEdit>[1]['changes'][number]) =>
      expect(() => commitEdit(db, { browser, label: 'x', changes: [change] })).toThrow(/removed for good|not there/);
    refused(hitOf('hit-0000-0002', id));
    refused({ op: 'create', doc: 'bookmark', id: 'mark-0001', value: { recordingId: id, frame: 3, label: '' } });
    refused({
      op: 'create',
      doc: 'slice',
      id: 'slice-0001',
      value: { recordingId: id, startFrame: 0, endFrame: 9, origin: 'hand', family: null },
    });
    refused({ op: 'update', doc: 'recording', id, rev: 1, set: { binnedAt: null } });
    removeArriving(db, id);
    expect(db.prepare('SELECT (SELECT count(*) FROM recording) + (SELECT count(*) FROM pcm_block) AS n').get()).toEqual(
      { n: 0 },
    );
    expect(checkWorkspace(db).faults).toEqual([]);
    db.close();
  });

  test('while a hit is made of it: the workspace opens all the same, the check says so, and mending brings both back', async () => {
    const { path, db, id } = await binned('broken.db');
    // As a version did it that claimed nothing: half removed, then a hit comes back by undo.
    db.prepare("UPDATE recording SET state = 'arriving', content_hash = NULL WHERE id = ?").run(id);
    db.prepare('DELETE FROM pcm_block WHERE recording_id = ?').run(id);
    db.prepare(
      "INSERT INTO hit (id, name, recording_id, start_frame, end_frame) VALUES ('hit-0000-0001', 'Kick', ?, 0, 500)",
    ).run(id);
    db.close();
    const server = await startServer(path);
    const client = new Client(server.address);
    expect(await client.get('/api/kits')).toEqual([]);
    expect(await client.get('/api/hits')).toMatchObject([{ name: 'Kick' }]);
    await server.kill();
    const run = (...args: string[]) =>
      spawnSync(PROGRAM, ['check', '--workspace', path, ...args], { encoding: 'utf8' });
    const found = run();
    expect(found.status).toBe(1);
    expect(found.stdout).toMatch(
      /loop: it was being removed, but 1 hit is made of it\n {2}\(--mend would bring "loop" back/,
    );
    const mended = run('--mend');
    expect(mended.stdout).toMatch(
      /^To be mended: 1 of 1 faults. This will\n- bring "loop" back with its hits, silent where/,
    );
    // That it still waits to be listened to is no fault.
    expect(run().stdout).toMatch(/^1 recording, .*: all sound$/m);
    const again = openWorkspace(path);
    expect(again.prepare('SELECT title, state, frames FROM recording').get()).toEqual({
      title: 'loop',
      state: 'ready',
      frames: 9000,
    });
    expect(again.prepare('SELECT name FROM hit').get()).toEqual({ name: 'Kick' });
    again.close();
  });
});

describe('opening', () => {
  const serve = (workspace: string) =>
    spawnSync(PROGRAM, ['serve', '--port', '0', '--workspace', workspace], { encoding: 'utf8', timeout: 60_000 });

  test.each<[string, (path: string) => void, RegExp]>([
    ['a folder', (path) => mkdirSync(path), /is a folder\. Name the file in it/],
    ['a file of another kind', (path) => writeFileSync(path, 'Dear all, '.repeat(2000)), /file of another kind/],
    [
      'a database of another program',
      (path) => new Database(path).exec('CREATE TABLE song (id)').close(),
      /database of another program/,
    ],
    [
      'a newer workspace',
      (path) => {
        const db = openWorkspace(path);
        db.prepare("INSERT INTO migration VALUES ('999-later.sql', 'x', 1)").run();
        db.close();
      },
      /made by a newer version/,
    ],
    [
      'a workspace whose steps were others',
      (path) => {
        const db = openWorkspace(path);
        db.prepare("UPDATE migration SET sha256 = 'x' WHERE name LIKE '003%'").run();
        db.close();
      },
      /was another one when it was applied/,
    ],
    ['a place in a file', (path) => writeFileSync(path.replace(/\/[^/]*$/, ''), ''), /cannot be opened/],
  ])('%s is refused with a clear line and nothing is announced', (name, make, message) => {
    const path = join(
      folder,
      name === 'a place in a file' ? 'file-not-folder/workspace.db' : `${name.replaceAll(' ', '-')}.db`,
    );
    make(path);
    const { status, stdout, stderr } = serve(path);
    expect([status, stdout]).toEqual([1, '']);
    expect(stderr).toMatch(message);
    expect(stderr.trim().split('\n')).toHaveLength(1);
  });

  test('a workspace in use is refused with who uses it and where; killed, it is free at once', async () => {
    const path = join(folder, 'held.db');
    const server = await startServer(path);
    const { status, stderr } = serve(path);
    expect(status).toBe(1);
    expect(stderr).toContain(`is in use by process ${server.pid}. It serves ${server.address}.`);
    // By another name too, and for mending; reading beside it is allowed.
    execFileSync('ln', ['-s', path, join(folder, 'linked.db')]);
    expect(serve(join(folder, 'linked.db')).stderr).toContain(`process ${server.pid}`);
    expect(() => undercroft('check', '--mend', '--workspace', path)).toThrow(/in use by process/);
    expect(undercroft('check', '--workspace', path)).toMatch(/all sound/);
    await server.kill();
    await (await startServer(path)).kill();
  });

  test('a file that is moved away under the server: nothing more is said to be saved until it is back', async () => {
    const path = join(folder, 'moved.db');
    const server = await startServer(path);
    const client = new Client(server.address);
    const kit = (name: string) => ({
      browser,
      label: name,
      changes: [{ op: 'create', doc: 'kit', id: `kit-${name}`, value: { name } }],
    });
    expect((await client.post('/api/edits', kit('before'))).status).toBe(200);
    renameSync(path, `${path}-away`);
    const { status, body } = await client.post('/api/edits', kit('lost-one'));
    expect([status, errorOf(body).code]).toEqual([503, 'unavailable']);
    expect(errorOf(body).message).toMatch(/moved, replaced or deleted/);
    writeFileSync(path, '');
    expect((await client.post('/api/edits', kit('lost-two'))).status).toBe(503);
    rmSync(path);
    renameSync(`${path}-away`, path);
    expect((await client.post('/api/edits', kit('again'))).status).toBe(200);
    await server.kill();
  });
});

test('a backup is made while edits go on, and is a whole workspace of one moment', async () => {
  const path = join(folder, 'backed.db');
  const server = await startServer(path);
  const client = new Client(server.address);
  await client.import('a.wav', sound(0.2, 900_000));
  let going = true;
  const editing = (async () => {
    for (let n = 0; going; n++)
      await client.edit(`kit ${n}`, [
        { op: 'create', doc: 'kit', id: `kit-${String(n).padStart(6, '0')}`, value: { name: `K ${n}` } },
      ]);
  })();
  const copy = join(folder, 'copy.db');
  await soon(async () => expect((await client.get<unknown[]>('/api/kits')).length).toBeGreaterThan(3));
  expect(undercroft('backup', copy, '--workspace', path)).toMatch(/^Copied .* MB\.$/m);
  going = false;
  await editing;
  expect(() => undercroft('backup', copy, '--workspace', path)).toThrow(/There is a file at .* already/);
  await server.kill();
  expect(undercroft('check', '--workspace', copy)).toMatch(/^1 recording, .*: all sound$/m);
  const db = openWorkspace(copy);
  // As many kits as edits: every one whole.
  expect(db.prepare('SELECT (SELECT count(*) FROM kit) - (SELECT count(*) FROM edit) AS n').get()).toEqual({ n: 0 });
  db.close();
});

describe('a full disk', () => {
  const disk = join(tmpdir(), `undercroft-disk-${process.pid}`);
  /** Nothing else fills a disk without filling the machine's: a small one of its own, which takes the right to mount it. */
  const mounted = () => {
    mkdirSync(disk, { recursive: true });
    return spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64m', 'tmpfs', disk]).status === 0;
  };
  const testMounted = mounted() ? test : test.skip;
  afterAll(() => {
    spawnSync('umount', ['-l', disk]);
    remove(disk);
  });

  testMounted(
    'a file without a length is given up with 507 and gone at once; edits, reading and opening go on',
    async () => {
      let server: Server | null = await startServer(join(disk, 'workspace.db'));
      try {
        let client = new Client(server.address);
        await client.import('small.wav', sound(0.3));
        async function* endless() {
          yield sound(0.4).subarray(0, 40);
          for (;;) yield new Uint8Array(1 << 20).fill(7);
        }
        const { status, body } = await client.stream('/api/recordings?name=endless.wav', endless());
        expect([status, errorOf(body).code]).toEqual([507, 'storage-full']);
        // What is left of the disk is filled by someone else, to the last byte.
        await soon(() => {
          const { status: filled } = spawnSync('dd', [
            'if=/dev/zero',
            `of=${join(disk, 'other')}`,
            'bs=64k',
            'oflag=append',
            'conv=notrunc',
          ]);
          expect(filled).not.toBe(0);
        });
        for (let n = 0; n < 200; n++)
          await client.edit(`full ${n}`, [
            { op: 'create', doc: 'kit', id: `kit-full-${String(n).padStart(4, '0')}`, value: { name: `F ${n}` } },
          ]);
        expect(await client.recordings()).toHaveLength(1);
        await server.kill();
        server = await startServer(join(disk, 'workspace.db'));
        client = new Client(server.address);
        expect(await client.get<unknown[]>('/api/kits')).toHaveLength(200);
        await client.edit('after', [{ op: 'create', doc: 'kit', id: 'kit-after-0001', value: { name: 'After' } }]);
        await server.kill();
        server = null;
        rmSync(join(disk, 'other'));
        expect(undercroft('check', '--workspace', join(disk, 'workspace.db'))).toMatch(/201 kit.*all sound/);
      } finally {
        await server?.kill();
      }
    },
  );

  test('the reserve is set aside once and survives', () => {
    const path = join(folder, 'reserved.db');
    keepReserve(path);
    const before = readFileSync(`${path}-reserve`);
    expect(before.length).toBe(8 * 1024 * 1024);
    keepReserve(path);
    expect(readFileSync(`${path}-reserve`).equals(before)).toBe(true);
  });
});

test('hits in the bin can be removed with what hangs on them, which is told before; undo brings all of it back', async () => {
  const path = join(folder, 'hits.db');
  const server = await startServer(path);
  const client = new Client(server.address);
  const { recordingId } = await client.import('a.wav', sound(0.5));
  const pad = (id: string, position: number) =>
    ({
      op: 'create',
      doc: 'pad',
      id,
      value: { ...PAD_INITIAL, kitId: 'kit-0000', position, name: id, family: null },
    }) as const;
  const layer = (id: string, padId: string, hitId: string) =>
    ({ op: 'create', doc: 'layer', id, value: { ...LAYER_INITIAL, padId, hitId, position: 0 } }) as const;
  await client.edit('a kit', [
    hitOf('hit-one-0001', recordingId),
    hitOf('hit-two-0001', recordingId),
    { op: 'create', doc: 'kit', id: 'kit-0000', value: { name: 'Kit' } },
    pad('pad-alone', 0),
    pad('pad-both-00', 1),
    { ...pad('pad-role-00', 2), value: { ...pad('pad-role-00', 2).value, role: 'Low kick', family: 'kick' } },
    layer('layer-0004', 'pad-role-00', 'hit-one-0001'),
    layer('layer-0001', 'pad-alone', 'hit-one-0001'),
    layer('layer-0002', 'pad-both-00', 'hit-one-0001'),
    layer('layer-0003', 'pad-both-00', 'hit-two-0001'),
  ]);
  const ids = ['hit-one-0001'];
  const removal = () => client.post('/api/hits/remove', { browser, ids });
  expect(errorOf((await removal()).body).message).toMatch(/is not in the bin/);
  await client.edit('binned', [{ op: 'update', doc: 'hit', id: ids[0] as string, rev: 1, set: { binnedAt: 5 } }]);
  expect((await client.post('/api/hits/uses', { ids })).body).toEqual({
    silent: [
      { pad: 'pad-alone', kit: 'Kit' },
      { pad: 'pad-role-00', kit: 'Kit' },
    ],
    thinner: [{ pad: 'pad-both-00', kit: 'Kit' }],
    takes: [],
    layered: [],
  });
  expect((await removal()).status).toBe(200);
  const kit = () => client.get<{ pads: { id: string; name: string }[]; layers: unknown[] }>('/api/kits/kit-0000');
  // A pad with a role waits for another sound.
  expect((await kit()).pads.map((p) => [p.id, p.name])).toEqual([
    ['pad-both-00', 'pad-both-00'],
    ['pad-role-00', 'Low kick'],
  ]);
  await client.step('undo');
  expect((await kit()).layers).toHaveLength(4);
  await server.kill();
});
