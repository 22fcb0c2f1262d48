import { copyFileSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { HitView, StoryView } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import { checkWorkspace } from '../../src/server/checking/check';
import { migrate, openWorkspace } from '../../src/server/db/open';
import { soon, undercroft } from '../harness';
import { errorOf } from './client';
import { served } from './served';

const at = served();

/** Strikes of a decaying tone at the seconds given, over an offset. */
function strikes(at: readonly number[], hz: number, dc = 0): Uint8Array<ArrayBuffer> {
  const rate = 48000;
  const samples = new Float32Array(((at.at(-1) ?? 0) + 0.5) * rate).fill(dc);
  for (const second of at) {
    for (let i = 0; i < 0.4 * rate; i++) {
      const n = Math.round(second * rate) + i;
      samples[n] = (samples[n] as number) + 0.6 * Math.sin((2 * Math.PI * hz * i) / rate) * Math.exp(-i / 2500);
    }
  }
  return writeWav({ sampleRate: rate, channels: [samples] }, 's24');
}

const importAs = (name: string, bytes: Uint8Array, query: string) =>
  at.client.ask('POST', `/api/recordings?name=${encodeURIComponent(name)}&${query}`, {}, [bytes]);
const hits = () => at.client.get<HitView[]>('/api/hits');

describe('ready sounds', () => {
  test('by what is in it, a file becomes a hit or stays a recording', async () => {
    const ids: string[] = [];
    for (const [name, at] of [
      ['Tom single.wav', [0.05]],
      ['Tom twice.wav', [0.05, 0.6]],
      ['Tom loop.wav', [0.05, 0.5, 1, 1.5]],
      ['Tom long.wav', [0.05, 7]],
    ] as const) {
      const { body } = await importAs(name, strikes(at, 150 + ids.length), 'as=auto');
      ids.push((body as { recordingId: string }).recordingId);
    }
    for (const id of ids) await at.client.cut(id);
    const found = await hits();
    expect(found.map((h) => [h.name, h.strikes.length])).toEqual([
      ['Tom single', 0],
      ['Tom twice', 1],
    ]);
    expect(found.every((h) => h.family === 'tom' && h.doubt === '')).toBe(true);
  });

  test('ticks prepare it on the way in; the recording keeps its samples', async () => {
    const { body } = await importAs('Offset_A3.wav', strikes([0.2], 220, 0.05), 'as=hit&prepare=dc,ends,peak,root');
    const id = (body as { recordingId: string }).recordingId;
    const { recording } = await at.client.cut(id);
    const hit = (await hits()).find((h) => h.recordingId === id);
    expect(hit?.steps).toMatchObject([
      { processor: 'dc', offset1: expect.closeTo(0.05, 2) },
      { processor: 'level', to: 'peak', peakDbfs: -1 },
    ]);
    expect(hit?.startFrame).toBeGreaterThan(0.19 * 48000);
    expect(hit?.startFrame).toBeLessThan(0.201 * 48000);
    expect(Math.abs(1200 * Math.log2((hit?.rootHz ?? 1) / 220))).toBeLessThan(5);
    expect(recording.frames).toBe(Math.round(0.7 * 48000));
    expect(recording.channelMeans[0]).toBeCloseTo(0.05, 2);
  });

  test('a named note that is not heard is pointed out', async () => {
    const { body } = await importAs('Tone_C4.wav', strikes([0.1], 294), 'as=hit');
    await at.client.cut((body as { recordingId: string }).recordingId);
    const hit = (await hits()).find((h) => h.name === 'Tone C4');
    expect(hit?.doubt).toMatch(/Told to be at 261\.6 Hz, but heard at 29\d\.\d Hz/);
  });

  test('preparing is one edit, refused as a whole where a hit is not there, and undone', async () => {
    const [one, two] = await hits();
    const ask = (ids: unknown[]) =>
      at.client.post('/api/hits/prepare', { browser: 'test-browser-0001', ids, ticks: ['loudness'] });
    const missing = await ask([one?.id, 'hit-not-there']);
    expect([missing.status, errorOf(missing.body).message]).toEqual([404, expect.stringMatching(/is not there/)]);
    expect((await hits())[0]?.steps).toEqual(one?.steps);
    expect((await ask([one?.id, two?.id])).status).toBe(200);
    expect((await hits())[0]?.steps).not.toEqual(one?.steps);
    await at.client.step('undo');
    const withoutRevisions = (list: readonly (HitView | undefined)[]) =>
      list.map((hit) => hit?.steps.map(({ rev: _rev, ...step }) => step));
    expect(withoutRevisions((await hits()).slice(0, 2))).toEqual(withoutRevisions([one, two]));
  });

  test('level by peak and by loudness together are refused', async () => {
    const { status, body } = await importAs('x.wav', strikes([0.1], 500), 'as=hit&prepare=peak,loudness');
    expect([status, errorOf(body).message]).toEqual([400, expect.stringMatching(/by peak or by loudness, not both/)]);
  });
});

describe('one audio under several names', () => {
  test('is kept once, and every name with it; the same sound as FLAC would be the same', async () => {
    const bytes = strikes([0.1], 333);
    const first = await at.client.import('first name.wav', bytes);
    const second = await at.client.import('second name.wav', bytes);
    expect(second).toMatchObject({ duplicate: true, recordingId: first.recordingId });
    const story = await at.client.get<StoryView>(`/api/recordings/${first.recordingId}/story`);
    expect(story.files.map((f) => f.fileName)).toEqual(['first name.wav', 'second name.wav']);
  });
});

describe('leaving', () => {
  test('only what lies in the bin and is not needed goes for good; its audio goes with it', async () => {
    const { recordingId } = await at.client.import('gone.wav', strikes([0.1], 410));
    await at.client.cut(recordingId);
    const remove = () => at.client.ask('DELETE', `/api/recordings/${recordingId}`);
    expect(errorOf((await remove()).body).message).toMatch(/is not in the bin/);
    const rev = at.client.rev('recording', recordingId);
    await at.client.edit('binned', [
      { op: 'update', doc: 'recording', id: recordingId, rev, set: { binnedAt: 1 } },
      {
        op: 'create',
        doc: 'hit',
        id: 'hit-of-gone-1',
        value: { name: 'Kept', family: null, recordingId, startFrame: 0, endFrame: 100, sliceId: null },
      },
    ]);
    expect(errorOf((await remove()).body).message).toMatch(/cannot go for good: a hit is made of it - Kept\./);
    await at.client.edit('removed', [{ op: 'remove', doc: 'hit', id: 'hit-of-gone-1', rev: 1 }]);
    expect((await remove()).status).toBe(200);
    const db = new Database(at.server.workspace, { readonly: true });
    const left = db.prepare('SELECT count(*) AS n FROM pcm_block WHERE recording_id = ?');
    await soon(() => expect(left.get(recordingId)).toEqual({ n: 0 }));
    db.close();
    // Undoing what named it is refused in words, not by a fault.
    await expect(at.client.step('undo')).rejects.toThrow(/The recording was removed for good/);
    expect(undercroft('check', '--workspace', at.server.workspace)).toMatch(/all sound/);
  });
});

describe('watched folders', () => {
  const watch = (path: string) => at.client.post('/api/folders', { path, takeAs: 'recording', prepare: [] });

  test('half a path, a file and a folder that is not there are refused with what would be right', async () => {
    const file = join(at.folder, 'file.wav');
    writeFileSync(file, 'x');
    const say = async (path: string) => errorOf((await watch(path)).body).message;
    expect(await say('sounds')).toMatch(/The whole path of the folder is needed/);
    expect(await say(file)).toMatch(/is a file; a folder is needed/);
    expect(await say(join(at.folder, 'nowhere'))).toMatch(/There is no folder ".*nowhere" on the machine/);
  });

  test('the same folder twice is one entry; forgetting it keeps what came from it', async () => {
    const path = join(at.folder, 'yard');
    mkdirSync(path);
    writeFileSync(join(path, 'yard.wav'), strikes([0.1], 600));
    const { id } = (await watch(path)).body as { id: string };
    expect((await watch(`${path}/`)).body).toEqual({ id });
    await at.client.post(`/api/folders/${id}/scan`, {});
    await soon(async () => expect((await at.client.recordings()).some((r) => r.title === 'yard')).toBe(true));
    await at.client.ask('DELETE', `/api/folders/${id}`);
    expect(await at.client.get('/api/folders')).toEqual([]);
    expect((await at.client.recordings()).some((r) => r.title === 'yard')).toBe(true);
  });
});

test('a workspace of the version before is taken over whole: nothing that a person made is missing', () => {
  const migrations = 'src/server/migrations';
  const before = join(at.folder, 'before');
  mkdirSync(before);
  for (const name of readdirSync(migrations).filter((n) => n.startsWith('001-')))
    copyFileSync(join(migrations, name), join(before, name));
  const path = join(at.folder, 'old.db');
  const old = openWorkspace(path, { migrate: false });
  migrate(old, before);
  old.exec(`
    INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, frames, arrived_at, notes)
      VALUES ('rec-old-0001', 'Old loop', 'arriving', 'old.wav', 's16', 16, 44100, 1, 2, 5, 'by the weir');
    INSERT INTO hit (id, name, recording_id, start_frame, end_frame) VALUES ('hit-old-0001', 'Old kick', 'rec-old-0001', 0, 2);
    INSERT INTO kit (id, name) VALUES ('kit-old-0001', 'Old kit');
    INSERT INTO edit (browser, label, at, kind, state) VALUES ('old-browser', 'made a hit', 1, 'edit', 'done');
    INSERT INTO change (edit_id, ordinal, doc, doc_id, after) VALUES (1, 0, 'hit', 'hit-old-0001',
      '{"id":"hit-old-0001","name":"Old kick","family":null,"recordingId":"rec-old-0001","startFrame":0,"endFrame":2,"sliceId":null}');
  `);
  old.close();
  const db = openWorkspace(path);
  // There is no sound in it: a removal that was broken off left the hits of this one without.
  const { faults, counts } = checkWorkspace(db);
  expect(counts).toMatchObject({ hit: 1, kit: 1, arriving: 1 });
  for (const { mend } of faults) mend?.run();
  expect(checkWorkspace(db)).toMatchObject({
    // It waits to be listened to.
    faults: [],
    counts: { hit: 1, kit: 1, recording: 1 },
  });
  expect(db.prepare('SELECT title, notes, what, tags FROM recording').get()).toEqual({
    title: 'Old loop',
    notes: 'by the weir',
    what: null,
    tags: '[]',
  });
  db.close();
});
