import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BeginTake, EndTake } from '../../src/contract/takes';
import type { ErrorAnswer, ImportAnswer, RecordingView, StoryView } from '../../src/contract/views';
import { seededRandom } from '../../src/core/signal/random';
import { openWorkspace } from '../../src/server/db/open';
import { RunningTakes } from '../../src/server/importing/takes';
import { remove, type Server, scratch, soon, startServer, undercroft } from '../harness';
import { Client } from './client';
import { served } from './served';

const at = served();
const RATE = 48_000;
const ROOM = { levelDb: -62.5, room: 'AAAA', humHz: null, rest: '' };

let made = 0;
function take(set: Partial<BeginTake> = {}): BeginTake {
  const number = ++made;
  return {
    ...{ id: `take-of-test-${String(number).padStart(4, '0')}`, sessionId: 'session-of-test', number },
    ...{ title: `Desk ${number}`, sampleRate: RATE, channelCount: 1 as const },
    source: { input: 'device', label: 'a microphone', latencyMs: 12 },
    ...set,
  };
}

/** Frames of noise as they are sent. */
function sound(frames: number, seed: number, channelCount = 1): Uint8Array<ArrayBuffer> {
  const random = seededRandom(seed);
  const floats = Float32Array.from({ length: frames * channelCount }, () => random() - 0.5);
  return new Uint8Array(floats.buffer);
}

const end = (frames: number, set: Partial<EndTake> = {}): EndTake => ({
  ...{ frames, room: null, gaps: [], heard: [], tempoBpm: null },
  ...set,
});

const begun = (client: Client, body: BeginTake) => client.post('/api/takes', body);
const ended = (client: Client, id: string, body: EndTake) => client.post(`/api/takes/${id}/end`, body);
const piece = (client: Client, id: string, from: number, bytes: Uint8Array) =>
  client.ask(
    'POST',
    `/api/takes/${id}/pieces?from=${from}`,
    { Origin: client.address, 'Content-Type': 'application/octet-stream' },
    [bytes],
  );

async function pcm(client: Client, id: string, frames: number): Promise<Uint8Array> {
  const answer = await fetch(`${client.address}/api/recordings/${id}/pcm?start=0&frames=${frames}`);
  return new Uint8Array(await answer.arrayBuffer());
}

async function recordingOf(client: Client, id: string): Promise<RecordingView> {
  const found = (await client.recordings()).find((one) => one.id === id);
  if (!found) throw new Error(`There is no recording ${id}.`);
  return found;
}

const errorOf = (body: unknown) => (body as ErrorAnswer).error;

describe('a take', () => {
  test('sent in pieces is a recording with every frame, the room and where it came from', async () => {
    const { client } = at;
    const wanted = take({ channelCount: 2 });
    const all = sound(200_000, 1, 2);
    expect(await begun(client, wanted)).toMatchObject({ status: 200, body: { frames: 0 } });
    for (let from = 0; from < 200_000; from += 12_345) {
      const bytes = all.subarray(8 * from, 8 * Math.min(200_000, from + 12_345));
      expect((await piece(client, wanted.id, from, bytes)).body).toEqual({ frames: Math.min(200_000, from + 12_345) });
    }
    expect((await client.recordings()).some(({ id }) => id === wanted.id)).toBe(false);
    const { body } = await ended(client, wanted.id, end(200_000, { room: ROOM, tempoBpm: 96 }));
    expect(body).toMatchObject({ recordingId: wanted.id, title: wanted.title, duplicate: false, warnings: [] });
    const recording = await recordingOf(client, wanted.id);
    expect(recording).toMatchObject({
      ...{ title: wanted.title, what: 'take', frames: 200_000, channelCount: 2, encoding: 'f32', tempoBpm: 96 },
      take: {
        number: wanted.number,
        sessionId: 'session-of-test',
        isCutOff: false,
        roomDb: -62.5,
        source: wanted.source,
      },
    });
    expect(Buffer.from(await pcm(client, wanted.id, 200_000)).equals(all)).toBe(true);
    expect((await client.get<StoryView>(`/api/recordings/${wanted.id}/story`)).room).toEqual(ROOM);
    await soon(async () => expect((await recordingOf(client, wanted.id)).analysed).toBe(true));
  });

  test('sent twice, overlapping or out of order has each frame once; what would leave a gap is refused', async () => {
    const { client } = at;
    const wanted = take();
    const all = sound(150_000, 2);
    const bytes = (from: number, to: number) => all.subarray(4 * from, 4 * to);
    await begun(client, wanted);
    expect((await piece(client, wanted.id, 0, bytes(0, 70_000))).body).toEqual({ frames: 70_000 });
    expect((await piece(client, wanted.id, 0, bytes(0, 70_000))).body).toEqual({ frames: 70_000 });
    expect((await begun(client, wanted)).body).toEqual({ frames: 70_000 });
    const early = await piece(client, wanted.id, 80_000, bytes(80_000, 90_000));
    expect([early.status, errorOf(early.body).message]).toEqual([409, expect.stringMatching(/70000 frames.*gap/)]);
    expect((await piece(client, wanted.id, 60_000, bytes(60_000, 150_000))).body).toEqual({ frames: 150_000 });
    const short = await ended(client, wanted.id, end(160_000));
    expect([short.status, errorOf(short.body).message]).toEqual([409, expect.stringMatching(/150000 of 160000/)]);
    const first = await ended(client, wanted.id, end(150_000));
    expect((await ended(client, wanted.id, end(150_000))).body).toEqual(first.body);
    expect(Buffer.from(await pcm(client, wanted.id, 150_000)).equals(all)).toBe(true);
    const late = await piece(client, wanted.id, 150_000, bytes(0, 10));
    expect([late.status, errorOf(late.body).code]).toEqual([404, 'not-found']);
  });

  test('without a frame, with half a frame or of an impossible rate is refused with a reason', async () => {
    const { client } = at;
    const wanted = take();
    await begun(client, wanted);
    const half = await piece(client, wanted.id, 0, new Uint8Array(7));
    expect([half.status, errorOf(half.body).message]).toEqual([400, expect.stringMatching(/whole frames of 4 bytes/)]);
    const empty = await ended(client, wanted.id, end(0));
    expect([empty.status, errorOf(empty.body).message]).toEqual([409, expect.stringMatching(/Nothing was recorded/)]);
    expect((await begun(client, take({ sampleRate: 12 }))).status).toBe(400);
    expect((await piece(client, 'no-such-take', 0, sound(10, 3))).status).toBe(404);
    expect((await ended(client, 'no-such-take', end(0))).status).toBe(404);
  });

  test('tells of its gaps, and has the strictest rights of what is heard in it', async () => {
    const { client } = at;
    const own = take();
    await begun(client, own);
    await piece(client, own.id, 0, sound(30_000, 4));
    await ended(client, own.id, end(30_000));
    await client.edit('rights', [
      {
        ...{ op: 'update', doc: 'recording', id: own.id, rev: (await recordingOf(client, own.id)).rev },
        set: { rightsKind: 'not-shared' },
      },
    ]);
    const wanted = take({ source: { input: 'output', label: 'our own output', latencyMs: null } });
    await begun(client, wanted);
    await piece(client, wanted.id, 0, sound(30_000, 5));
    await ended(client, wanted.id, end(30_000, { heard: [own.id], gaps: [{ frame: 24_000, frames: 256 }] }));
    expect(await recordingOf(client, wanted.id)).toMatchObject({
      rightsKind: 'not-shared',
      notes: `Heard in it: ${own.title}.`,
      warnings: [expect.stringMatching(/256 frames are missing at 0\.500 s/)],
    });
    const drummed = take({ source: { input: 'drummer', label: 'fairground drummer', latencyMs: null } });
    await begun(client, drummed);
    await piece(client, drummed.id, 0, sound(3000, 6));
    await ended(client, drummed.id, end(3000));
    expect((await recordingOf(client, drummed.id)).rightsKind).toBe('cc0');
  });

  test('of the same audio as a recording is that recording', async () => {
    const { client } = at;
    const [first, second] = [take(), take()];
    for (const one of [first, second]) {
      await begun(client, one);
      await piece(client, one.id, 0, sound(5000, 7));
    }
    await ended(client, first.id, end(5000));
    // Asked for its end again, as after an answer that was lost, it is answered again.
    for (let asked = 0; asked < 2; asked++)
      expect((await ended(client, second.id, end(5000))).body).toMatchObject({
        ...{ recordingId: first.id, title: first.title, duplicate: true },
      });
  });

  test('of the title that a take of another tab has gets the next number', async () => {
    const { client } = at;
    const first = take();
    const second = take({ title: first.title, number: first.number });
    for (const [n, one] of [first, second].entries()) {
      await begun(client, one);
      await piece(client, one.id, 0, sound(1000, 20 + n));
    }
    await ended(client, first.id, end(1000));
    expect((await ended(client, second.id, end(1000))).body).toMatchObject({ title: `Desk ${first.number + 1}` });
    made++;
  });
});

test.each([1, 2, 3])(
  'the server killed in the middle, time %i: every frame that was acknowledged is there, told as cut off',
  async (time) => {
    const wanted = take();
    await begun(at.client, wanted);
    const all = sound(400_000, 10 + time);
    let stored = 0;
    // Blocks of the workspace have 65,536 frames: the last pieces lie after whole ones, or before the first.
    const pieces = [11_000, 3, 131_072 - 11_003, 50_000].slice(0, 1 + time);
    for (const frames of pieces) {
      const { body } = await piece(at.client, wanted.id, stored, all.subarray(4 * stored, 4 * (stored + frames)));
      stored = (body as { frames: number }).frames;
    }
    // One more is on its way when the server goes.
    const last = piece(at.client, wanted.id, stored, all.subarray(4 * stored, 4 * (stored + 12_000))).catch(() => null);
    await at.server.kill();
    await last;
    await at.restart();
    await soon(async () => expect((await at.client.recordings()).map(({ id }) => id)).toContain(wanted.id));
    const recording = await recordingOf(at.client, wanted.id);
    expect(recording.frames).toBeGreaterThanOrEqual(stored);
    expect(recording.take).toMatchObject({ isCutOff: true, number: wanted.number });
    expect(recording.warnings.join()).toMatch(/cut off after/);
    expect(Buffer.from(await pcm(at.client, wanted.id, stored)).equals(all.subarray(0, 4 * stored))).toBe(true);
    // Its page is told that what comes now belongs to another take.
    expect((await piece(at.client, wanted.id, stored, sound(10, 1))).status).toBe(404);
    await soon(() => expect(undercroft('check', '--workspace', at.server.workspace)).toMatch(/all sound/));
  },
);

test('a take whose page is gone is ended by itself, and one that goes on is not', () => {
  jest.useFakeTimers();
  const db = openWorkspace(join(scratch(), 'workspace.db'));
  const recovered: string[] = [];
  const takes = new RunningTakes(db, { discard: () => {}, recovered: (id) => recovered.push(id) });
  const [left, kept] = [take(), take()];
  for (const one of [left, kept]) {
    takes.begin(one);
    takes.push(one.id, 0, sound(1000, made));
  }
  for (let n = 1; n <= 3; n++) {
    jest.advanceTimersByTime(6000);
    takes.push(kept.id, 1000 * n, sound(1000, n));
  }
  expect(recovered).toEqual([left.id]);
  expect(takes.isBusy).toBe(true);
  takes.end(kept.id, end(4000));
  expect(takes.isBusy).toBe(false);
  jest.useRealTimers();
  db.close();
});

test('a take that another thread goes on with has what the first one stored', () => {
  jest.useFakeTimers();
  const db = openWorkspace(join(scratch(), 'workspace.db'));
  const says = { discard: () => {}, recovered: () => {} };
  const wanted = take();
  const all = sound(180_000, 21);
  let writer = new RunningTakes(db, says);
  writer.begin(wanted);
  for (let from = 0; from < 180_000; from += 20_000) {
    writer.push(wanted.id, from, all.subarray(4 * from, 4 * (from + 20_000)));
    writer = new RunningTakes(db, says);
  }
  const answer: ImportAnswer = writer.end(wanted.id, end(180_000));
  expect(answer).toMatchObject({ recordingId: wanted.id, duplicate: false });
  jest.useRealTimers();
  db.close();
});

describe('a full disk', () => {
  const disk = join(tmpdir(), `undercroft-take-disk-${process.pid}`);
  const mounted = () => {
    mkdirSync(disk, { recursive: true });
    return spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64m', 'tmpfs', disk]).status === 0;
  };
  const testMounted = mounted() ? test : test.skip;
  afterAll(() => {
    spawnSync('umount', ['-l', disk]);
    remove(disk);
  });

  testMounted('a take is told that there is no room; what was acknowledged is there, and it can be ended', async () => {
    let server: Server | null = await startServer(join(disk, 'workspace.db'));
    try {
      const client = new Client(server.address);
      const wanted = take();
      await begun(client, wanted);
      const all = sound(12_000_000, 30);
      const bytes = (from: number) => all.subarray(4 * from, 4 * (from + 100_000));
      let stored = 0;
      let refused = null;
      while (!refused && stored < 12_000_000) {
        const { status, body } = await piece(client, wanted.id, stored, bytes(stored));
        if (status === 200) stored = (body as { frames: number }).frames;
        else refused = { status, ...errorOf(body) };
      }
      expect(refused).toMatchObject({ status: 507, code: 'storage-full', message: expect.stringMatching(/disk/) });
      expect(stored).toBeGreaterThan(1_000_000);
      expect((await piece(client, wanted.id, stored, bytes(stored))).status).toBe(507);
      const { status } = await ended(client, wanted.id, end(stored));
      expect(status).toBe(200);
      expect(Buffer.from(await pcm(client, wanted.id, stored)).equals(all.subarray(0, 4 * stored))).toBe(true);
      await server.kill();
      server = null;
      rmSync(join(disk, 'workspace.db-reserve'), { force: true });
      expect(undercroft('check', '--workspace', join(disk, 'workspace.db'))).toMatch(/all sound/);
    } finally {
      await server?.kill();
    }
  });
});
