import Database from 'better-sqlite3';
import type { Change } from '../../src/contract/edits';
import { wavHeader } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { demoWorkspace, remove, type Server, scratch, startServer, undercroft } from '../harness';
import { Client } from './client';

let folder: string;
let server: Server;
const random = seededRandom(407);

beforeAll(async () => {
  folder = scratch();
  server = await startServer(demoWorkspace(folder));
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

async function restartAndCheck(): Promise<void> {
  await server.kill();
  server = await startServer(server.workspace);
  // The first request opens the workspace: it sweeps what never arrived.
  await new Client(server.address).recordings();
  expect(undercroft('check', '--workspace', server.workspace)).toMatch(/all sound/);
}

function rows<T>(sql: string): T[] {
  const db = new Database(server.workspace, { readonly: true });
  const found = db.prepare(sql).all() as T[];
  db.close();
  return found;
}

test.each([1, 2, 3])(
  'killed in the middle of an import, time %i: what was there is whole, nothing half is left',
  async () => {
    const before = (await new Client(server.address).recordings()).map((r) => r.id);
    const killAt = 8 + Math.floor(random() * 60);
    const arriving =
      "SELECT count(*) AS n FROM pcm_block b JOIN recording r ON r.id = b.recording_id WHERE r.state = 'arriving'";
    let sent = 0;
    async function* pieces() {
      yield wavHeader({ encoding: 's24', sampleRate: 48000, channelCount: 2 }, 5e7);
      for (;;) {
        yield new Uint8Array(1 << 20).fill(sent++);
        // Killed only once blocks are on the disk, so that there is something half to be left.
        if (sent < killAt || rows<{ n: number }>(arriving)[0]?.n === 0) continue;
        await server.kill();
        await pause(1000);
      }
    }
    await expect(new Client(server.address).stream('/api/recordings?name=half.wav', pieces())).rejects.toThrow();
    expect(rows<{ n: number }>("SELECT count(*) AS n FROM recording WHERE state = 'arriving'")).toEqual([{ n: 1 }]);
    await restartAndCheck();
    expect((await new Client(server.address).recordings()).map((r) => r.id)).toEqual(before);
    expect(rows("SELECT id FROM recording WHERE state = 'arriving'")).toEqual([]);
    expect(rows('SELECT recording_id FROM pcm_block WHERE recording_id NOT IN (SELECT id FROM recording)')).toEqual([]);
  },
);

test.each([1, 2, 3])(
  'killed in a burst of edits, time %i: every answered one is there, and each whole',
  async (round) => {
    const client = new Client(server.address, `burst-browser-${round}`);
    const recordingId = (await client.recordings())[0]?.id ?? '';
    const answered: number[] = [];
    let sent = 0;
    let alive = true;
    const one = async () => {
      const n = sent++;
      const kitId = `kit-${round}-${String(n).padStart(6, '0')}`;
      const sliceId = `slice-${round}-${String(n).padStart(6, '0')}`;
      const changes: Change[] = [
        { op: 'create', doc: 'kit', id: kitId, value: { name: `Burst ${round} ${n}` } },
        {
          op: 'create',
          doc: 'slice',
          id: sliceId,
          value: { recordingId, startFrame: n, endFrame: n + 99, origin: 'hand', family: null },
        },
      ];
      await client.edit(`burst ${n}`, changes);
      answered.push(n);
    };
    const lane = async () => {
      while (alive) await one().catch(() => {});
    };
    const lanes = [lane(), lane(), lane(), lane()];
    // Some are answered, however slow the machine is; then at any moment.
    const enough = 6 + Math.floor(random() * 60);
    while (answered.length < enough) await pause(1);
    await pause(random() * 20);
    await server.kill();
    alive = false;
    await Promise.all(lanes);
    await restartAndCheck();
    const kits = new Set(rows<{ name: string }>('SELECT name FROM kit').map((k) => k.name));
    const slices = new Set(rows<{ id: string }>('SELECT id FROM slice').map((s) => s.id));
    const edits = new Set(
      rows<{ label: string }>(`SELECT label FROM edit WHERE browser = 'burst-browser-${round}'`).map((e) => e.label),
    );
    for (let n = 0; n < sent; n++) {
      const there = [
        kits.has(`Burst ${round} ${n}`),
        slices.has(`slice-${round}-${String(n).padStart(6, '0')}`),
        edits.has(`burst ${n}`),
      ];
      // All or nothing; and all where it was answered.
      expect(new Set(there).size).toBe(1);
      if (answered.includes(n)) expect(there[0]).toBe(true);
    }
  },
);

test('killed while a kit is being exported: nothing is hurt, and the export then comes whole', async () => {
  const kit = (await new Client(server.address).get<{ id: string; name: string }[]>('/api/kits')).find(
    (k) => k.name === 'Millstone',
  );
  const path = `/api/kits/${kit?.id}/export`;
  // Killed between two pieces of the zip: the first has come, the rest is not read.
  const reader = (await fetch(`${server.address}${path}`)).body?.getReader();
  expect((await reader?.read())?.value?.length).toBeGreaterThan(0);
  await server.kill();
  await expect(
    (async () => {
      while (!(await reader?.read())?.done);
    })(),
  ).rejects.toThrow();
  await restartAndCheck();
  const whole = new Uint8Array(await (await fetch(`${server.address}${path}`)).arrayBuffer());
  expect(String.fromCharCode(...whole.subarray(0, 2))).toBe('PK');
  // The end of central directory record, which only a whole zip has (PKWARE APPNOTE 4.3.16).
  expect([...whole.subarray(-22, -18)]).toEqual([0x50, 0x4b, 5, 6]);
});
