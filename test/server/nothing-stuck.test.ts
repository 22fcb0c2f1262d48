import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { wavHeader, writeWav } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { openWorkspace } from '../../src/server/db/open';
import { roomFor } from '../../src/server/db/reserve';
import { Intake } from '../../src/server/importing/intake';
import { plainImport } from '../../src/server/importing/options';
import { removeArriving } from '../../src/server/importing/removal';
import { claimJob, expireLeases, freeLeases, queueJob, unlistened } from '../../src/server/jobs/lease';
import { soon, startServer, undercroft } from '../harness';
import { Client, errorOf } from './client';
import { endlessM4a, id3Tag, madeByFfmpeg } from './damaged';
import { served } from './served';

const at = served();

function noise(seed: number, seconds: number): Uint8Array<ArrayBuffer> {
  const random = seededRandom(seed);
  const samples = Float32Array.from({ length: Math.round(seconds * 44100) }, () => random() - 0.5);
  return writeWav({ sampleRate: 44100, channels: [samples] }, 's16');
}

const kit = (name: string) =>
  ({ op: 'create', doc: 'kit', id: `kit-${randomUUID().slice(0, 20)}`, value: { name } }) as const;

/** Edits one after another until `work` is done; gives how long each took, in ms. */
async function editingDuring(work: Promise<unknown>): Promise<number[]> {
  let over = false;
  void work
    .finally(() => {
      over = true;
    })
    .catch(() => {});
  const times: number[] = [];
  for (let n = 0; !over || times.length < 20; n++) {
    const begun = performance.now();
    await at.client.edit(`edit ${n}`, [kit(`Beside ${randomUUID()}`)]);
    times.push(performance.now() - begun);
  }
  await work;
  return times.sort((a, b) => a - b);
}

describe('a file that no decoder comes to an end with', () => {
  test('is refused after seconds; files on their way beside and behind it come in meanwhile', async () => {
    const bad = at.client.importBytes('endless.m4a', endlessM4a(at.folder));
    const flac = madeByFfmpeg(at.folder, 'good.flac', '-c:a', 'flac');
    const mp3 = madeByFfmpeg(at.folder, 'good.mp3', '-c:a', 'libmp3lame');
    let refused = false;
    void bad.then(() => {
      refused = true;
    });
    const good = await Promise.all([
      at.client.import('good.wav', noise(1, 1)),
      at.client.import('good.flac', flac),
      at.client.import('good.mp3', mp3),
    ]);
    expect(refused).toBe(false);
    expect(good.map((g) => g.duplicate)).toEqual([false, false, false]);
    const { status, body } = await bad;
    expect([status, errorOf(body).message]).toEqual([
      422,
      'endless.m4a: The file could not be decoded: the decoder stood still over it for 5 seconds.',
    ]);
  });

  test('cancelled, it holds up nothing that comes after it', async () => {
    const abort = new AbortController();
    const body = endlessM4a(at.folder);
    const sent = fetch(`${at.server.address}/api/recordings?name=endless.m4a`, {
      method: 'POST',
      body,
      signal: abort.signal,
    });
    await new Promise((resolve) => setTimeout(resolve, 500));
    abort.abort();
    await expect(sent).rejects.toThrow(/abort/i);
    const ogg = madeByFfmpeg(at.folder, 'after.ogg', '-af', 'volume=0.5', '-c:a', 'libvorbis');
    expect(await at.client.import('after.ogg', ogg)).toMatchObject({ duplicate: false });
  });
});

test('an Apple Lossless file whose header lies about its rate is refused in words', async () => {
  const file = madeByFfmpeg(at.folder, 'lies.m4a', '-c:a', 'alac');
  // The second box of that name holds what the decoder needs; its rate stands last (ALACMagicCookieDescription).
  const box = Buffer.from(file.buffer).lastIndexOf('alac');
  for (const rate of [0, 1, 0x7fffffff]) {
    new DataView(file.buffer).setUint32(box + 4 + 4 + 20, rate, false);
    const { status, body } = await at.client.importBytes('lies.m4a', file);
    expect([rate, status, errorOf(body).code]).toEqual([rate, expect.any(Number), expect.stringMatching(/-audio$/)]);
    expect([415, 422]).toContain(status);
  }
});

describe('a sound behind a long tag', () => {
  test.each([
    ['a cover picture of 3 MB', 3e6, 0],
    ['zeros between tag and sound', 400, 700_000],
  ])('%s', async (name, tagBytes, zeros) => {
    const mp3 = madeByFfmpeg(
      at.folder,
      'tagged.mp3',
      '-af',
      `volume=${tagBytes > 1e6 ? 0.3 : 0.4}`,
      '-c:a',
      'libmp3lame',
      '-id3v2_version',
      '0',
    );
    // A picture's bytes look like anything, frames of sound included.
    const random = seededRandom(4);
    const picture = Uint8Array.from({ length: tagBytes }, () => Math.floor(random() * 256));
    const file = Buffer.concat([id3Tag(picture), new Uint8Array(zeros), mp3]);
    const { recordingId, warnings } = await at.client.import(`${name}.mp3`, file);
    const recording = (await at.client.recordings()).find((r) => r.id === recordingId);
    expect(recording).toMatchObject({ fileKind: 'mp3', sampleRate: 44100 });
    expect(recording?.frames).toBeGreaterThan(44000);
    expect(warnings.join()).not.toMatch(/could not be decoded/);
  });

  test('BW64 is read as the WAV that it is (ITU-R BS.2088)', async () => {
    const file = noise(5, 0.2);
    file.set(new TextEncoder().encode('BW64'));
    expect(await at.client.import('long.wav', file)).toMatchObject({ duplicate: false });
  });
});

describe('room is given back', () => {
  test('of a long recording that is removed, in steps that no edit waits for', async () => {
    const frames = 30e6;
    async function* pieces() {
      yield wavHeader({ encoding: 's24', sampleRate: 48000, channelCount: 2 }, frames);
      const piece = new Uint8Array(1 << 20);
      for (let at = 0; at < frames * 6; at += piece.length) {
        piece.fill(at >> 20);
        yield piece.subarray(0, Math.min(piece.length, frames * 6 - at));
      }
    }
    const { body } = await at.client.stream('/api/recordings?name=long.wav', pieces());
    const { recordingId: id } = body as { recordingId: string };
    const rev = (await at.client.recordings()).find((r) => r.id === id)?.rev ?? 0;
    await at.client.edit('into the bin', [{ op: 'update', doc: 'recording', id, rev, set: { binnedAt: 1 } }]);
    const db = new Database(at.server.workspace, { readonly: true });
    const pages = () => db.pragma('page_count', { simple: true }) as number;
    const full = pages();
    const gone = at.client
      .ask('DELETE', `/api/recordings/${id}`)
      .then(() => soon(() => expect(pages()).toBeLessThan(full - 10_000)));
    const times = await editingDuring(gone);
    db.close();
    expect(times.at(Math.floor(times.length * 0.95))).toBeLessThan(100);
  });

  test('of a cancelled import; until then it is counted as room', async () => {
    const path = join(at.folder, 'room.db');
    const db = openWorkspace(path);
    const discarded: string[] = [];
    const intake = new Intake(db, randomUUID(), plainImport('half.wav'), null, (id) => discarded.push(id));
    intake.write(noise(9, 60));
    intake.cancel();
    expect(discarded).toHaveLength(1);
    const before = roomFor(db);
    removeArriving(db, discarded[0] as string);
    expect(db.pragma('freelist_count', { simple: true })).toBeGreaterThan(200);
    // A second import of it has the room of the first: at least what it freed, whatever else happens on the disk.
    expect(roomFor(db)).toBeGreaterThan(before);
    db.close();
    // A server sweeps what was left, and tidies up behind it.
    const other = await startServer(path);
    const reader = new Database(path, { readonly: true });
    await soon(() => {
      expect(reader.prepare('SELECT count(*) AS n FROM recording').get()).toEqual({ n: 0 });
      expect(reader.pragma('freelist_count', { simple: true })).toBeLessThan(70);
      expect(reader.pragma('page_count', { simple: true })).toBeLessThan(200);
    });
    reader.close();
    await other.kill();
  });
});

describe('listening', () => {
  const queued = (path: string) => {
    const db = openWorkspace(path);
    db.exec(`INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, frames, arrived_at)
      VALUES ('rec-0000-0001', 'Long', 'ready', 'a.wav', 's16', 16, 44100, 1, 9, 1), ('rec-0000-0002', 'Other', 'ready', 'b.wav', 's16', 16, 44100, 1, 9, 2)`);
    queueJob(db, 'analyse', 'rec-0000-0001');
    return db;
  };

  test('that is broken off by stopping the application is taken up however often that was, others first', () => {
    const db = queued(join(at.folder, 'stops.db'));
    for (let stop = 0; stop < 9; stop++) {
      expect(claimJob(db)).toMatchObject({ recordingId: 'rec-0000-0001' });
      freeLeases(db);
    }
    queueJob(db, 'analyse', 'rec-0000-0002');
    expect(claimJob(db)).toMatchObject({ recordingId: 'rec-0000-0002' });
    expect(claimJob(db)).toMatchObject({ recordingId: 'rec-0000-0001' });
    db.close();
  });

  test('whose thread has died is begun again at once', () => {
    const db = queued(join(at.folder, 'died.db'));
    expect(claimJob(db)).not.toBeNull();
    expect(claimJob(db)).toBeNull();
    expireLeases(db);
    expect(claimJob(db)).toMatchObject({ recordingId: 'rec-0000-0001' });
    db.close();
  });

  test('that ends its thread again and again is given up, which is said, and can be begun again', async () => {
    const path = join(at.folder, 'given-up.db');
    const db = queued(path);
    for (let attempt = 0; attempt < 3; attempt++) {
      expect(claimJob(db, { now: attempt * 100_000 })).not.toBeNull();
    }
    const told: string[] = [];
    expect(claimJob(db, { now: 400_000, gaveUp: (job, error) => told.push(`${job.kind}: ${error}`) })).toBeNull();
    expect(told).toEqual(['analyse: given up after 3 attempts']);
    expect(unlistened(db, 1)).toEqual([
      { id: 'rec-0000-0001', title: 'Long', error: 'given up after 3 attempts' },
      { id: 'rec-0000-0002', title: 'Other', error: null },
    ]);
    db.close();
    const check = () => undercroft('check', '--json', '--workspace', path);
    expect(check).toThrow();
    const other = await startServer(path);
    const visitor = new Client(other.address);
    const reasons = async () => (await visitor.recordings()).map((r) => r.unlistened);
    expect(await reasons()).toEqual(['given up after 3 attempts', 'it was never begun']);
    expect((await visitor.post('/api/recordings/rec-0000-0001/listen', {})).body).toEqual({ begun: true });
    // There is no sound in it: that is found, and told.
    await soon(async () => expect((await reasons())[0]).toMatch(/no longer there/));
    await other.kill();
  });
});
