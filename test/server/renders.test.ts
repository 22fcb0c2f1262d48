import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { HitView, ImportAnswer, RecordingView } from '../../src/contract/views';
import { readWav, writeWav } from '../../src/core/format/wav';
import { audioDigest } from '../../src/core/hit/digest';
import { renderHit } from '../../src/core/hit/render';
import { type Audio, cut } from '../../src/core/signal/audio';
import { RenderStore } from '../../src/server/renders/store';
import { remove, scratch, undercroft } from '../harness';
import { served } from './served';
import { expectSame, noise, soundOf } from './sounds';

const at = served();

const RATE = 22_050;

describe('a treated hit', () => {
  const wav = writeWav(noise(150_000, 2, 1, RATE, 1), 's16');
  const source = cut(readWav(wav).audio, 1000, 141_000);
  let hit: HitView;

  beforeAll(async () => {
    const { recordingId } = await at.client.import('Rush.wav', wav);
    await at.client.edit('treated', [
      {
        op: 'create',
        doc: 'hit',
        id: 'hit-render-01',
        value: { name: 'Rush', family: null, sliceId: null, recordingId, startFrame: 1000, endFrame: 141_000 },
      },
      {
        op: 'create',
        doc: 'step',
        id: 'step-render-1',
        value: { hitId: 'hit-render-01', processor: 'reverse', position: 0 },
      },
      {
        op: 'create',
        doc: 'step',
        id: 'step-render-2',
        value: { hitId: 'hit-render-01', processor: 'fades', position: 1, inMs: 200 },
      },
    ]);
    hit = (await at.client.get<HitView[]>('/api/hits')).find((h) => h.id === 'hit-render-01') as HitView;
  });

  const ask = async (wanted: HitView) =>
    fetch(`${at.server.address}/api/hits/hit-render-01/sound?digest=${await audioDigest(wanted)}`);
  const sound = () => soundOf(at.client, hit);
  const renders = () => {
    const db = new Database(`${at.server.workspace}-renders`, { readonly: true });
    const { n } = db.prepare('SELECT count(*) AS n FROM render').get() as { n: number };
    db.close();
    return n;
  };

  test('is rendered once, as the core renders it, however often it is asked for', async () => {
    const all = await Promise.all([sound(), sound(), sound()]);
    for (const one of all) expectSame(one, renderHit(hit, () => source).audio);
    await sound();
    expect(renders()).toBe(1);
  });

  test('is refused where another sound is meant than it has by now', async () => {
    const answer = await ask({ ...hit, endFrame: hit.endFrame - 1 });
    expect(answer.status).toBe(409);
    expect(
      (await fetch(`${at.server.address}/api/hits/hit-nowhere-1/sound?digest=${await audioDigest(hit)}`)).status,
    ).toBe(404);
  });

  test('is rendered again where its renders have been deleted or damaged, with the server running or not', async () => {
    await at.server.kill();
    const path = `${at.server.workspace}-renders`;
    expect(existsSync(path)).toBe(true);
    writeFileSync(path, 'no database');
    await at.restart();
    expectSame(await sound(), renderHit(hit, () => source).audio);
    for (const end of ['', '-wal', '-shm']) rmSync(path + end, { force: true });
    expectSame(await sound(), renderHit(hit, () => source).audio);
    // What is not known from before, too: all threads go over to the new file.
    rmSync(path, { force: true });
    await at.client.edit('longer', [{ op: 'update', doc: 'step', id: 'step-render-2', rev: 1, set: { inMs: 300 } }]);
    hit = (await at.client.get<HitView[]>('/api/hits')).find((h) => h.id === hit.id) as HitView;
    expectSame(await sound(), renderHit(hit, () => source).audio);
  });
});

describe('a printed hit', () => {
  test('is a recording of its own: its samples as they sound, its source’s rights, and a note on where it is from', async () => {
    const source = await at.client.import('Mill.wav', writeWav(noise(40_000, 1, 8, RATE, 1), 's16'));
    await at.client.edit('made', [
      {
        op: 'update',
        doc: 'recording',
        id: source.recordingId,
        rev: 1,
        set: { rightsKind: 'other', rightsOwner: 'A mill', rightsText: 'With the name told.' },
      },
      {
        op: 'create',
        doc: 'hit',
        id: 'hit-render-03',
        value: {
          name: 'Wheel',
          family: null,
          sliceId: null,
          recordingId: source.recordingId,
          startFrame: 100,
          endFrame: 9100,
        },
      },
      {
        op: 'create',
        doc: 'step',
        id: 'step-render-31',
        value: { hitId: 'hit-render-03', processor: 'reverse', position: 0 },
      },
      {
        op: 'create',
        doc: 'step',
        id: 'step-render-32',
        value: { hitId: 'hit-render-03', processor: 'level', position: 1, gainDb: -6 },
      },
    ]);
    const print = async () =>
      (await at.client.post('/api/hits/hit-render-03/print', { browser: 'test-browser-0001' })).body as ImportAnswer;
    const { recordingId, duplicate } = await print();
    expect(duplicate).toBe(false);
    const hit = (await at.client.get<HitView[]>('/api/hits')).find((h) => h.id === 'hit-render-03') as HitView;
    const { audio, gain } = renderHit(hit, () =>
      cut(readWav(writeWav(noise(40_000, 1, 8, RATE, 1), 's16')).audio, 100, 9100),
    );
    const pcm = await fetch(`${at.server.address}/api/recordings/${recordingId}/pcm?start=0&frames=9000`);
    const told = new Float32Array(await pcm.arrayBuffer());
    expect(told.every((x, i) => x === Math.fround((audio.channels[0]?.[i] as number) * gain))).toBe(true);
    const made = (await at.client.get<RecordingView[]>('/api/recordings')).find((r) => r.id === recordingId);
    expect(made).toMatchObject({
      title: 'Wheel printed',
      rightsKind: 'other',
      rightsOwner: 'A mill',
      rightsText: 'With the name told.',
    });
    expect(made?.notes).toMatch(/Printed from the hit Wheel of Mill, at 0.005 s/);
    expect((await print()).duplicate).toBe(true);
  });
});

describe('undercroft render', () => {
  const folder = scratch();
  afterAll(() => remove(folder));
  const path = (name: string) => join(folder, name);
  const chain = [
    { processor: 'equaliser', points: [{ kind: 'high-pass', frequencyHz: 120, steepDb: 24 }, { gainDb: 4.5 }] },
    { processor: 'attack', attackDb: 4 },
    { processor: 'tune', semitones: 2, keep: 'length' },
    { processor: 'saturation', driveDb: 9, mix: 0.5 },
    { processor: 'length', timeMs: 400 },
    { processor: 'limiter', ceilingDbtp: -1 },
  ];

  test('gives the samples that the application gives, bit for bit', async () => {
    const wav = writeWav(noise(30_000, 2, 5, RATE, 1), 's24');
    writeFileSync(path('in.wav'), wav);
    writeFileSync(path('steps.json'), JSON.stringify(chain));
    const { recordingId } = await at.client.import('In.wav', wav);
    const id = 'hit-render-02';
    await at.client.edit('treated', [
      {
        op: 'create',
        doc: 'hit',
        id,
        value: { name: 'In', family: null, sliceId: null, recordingId, startFrame: 500, endFrame: 25_000 },
      },
      ...chain.map((step, position) => ({
        op: 'create' as const,
        doc: 'step' as const,
        id: `step-render-2${position}`,
        value: { hitId: id, position, ...step },
      })),
    ]);
    const hit = (await at.client.get<HitView[]>('/api/hits')).find((h) => h.id === id) as HitView;
    const answer = await fetch(`${at.server.address}/api/hits/${id}/sound?digest=${await audioDigest(hit)}`);
    const told = Buffer.from(await answer.arrayBuffer());
    writeFileSync(
      path('hit.json'),
      JSON.stringify({ file: 'in.wav', startFrame: 500, endFrame: 25_000, steps: chain }),
    );
    undercroft('render', path('hit.json'), '--out', path('out.wav'));
    const { audio } = readWav(readFileSync(path('out.wav')));
    const [left, right] = audio.channels as [Float32Array, Float32Array];
    const woven = Float32Array.from({ length: 2 * left.length }, (_, i) => (i % 2 ? right : left)[i >> 1] as number);
    expect(Buffer.from(woven.buffer).equals(told)).toBe(true);
  });

  test.each([
    ['[{"processor":"tune","semitones":49}]', /0\.semitones: Tune lies between -48 and 48 st/],
    ['[{"processor":"blur"}]', /processor is one of equaliser, tune/],
    ['[{"processor":"gate","rattio":3}]', /rattio/],
    ['{', /cannot be read as JSON/],
  ])('%s is refused with what would be right', (steps, words) => {
    writeFileSync(path('wrong.json'), steps);
    writeFileSync(path('a.wav'), writeWav(noise(100, 1, 1, RATE, 1), 's16'));
    expect(() => undercroft('render', path('a.wav'), '--steps', path('wrong.json'), '--out', path('b.wav'))).toThrow(
      words,
    );
    expect(existsSync(path('b.wav'))).toBe(false);
  });
});

describe('the store of renders', () => {
  test('stays within its bounds: what was used longest ago leaves, and what is larger than all is not kept', () => {
    const folder = scratch();
    const store = new RenderStore(join(folder, 'renders'), 100_000);
    for (let n = 0; n < 5; n++) store.keep(`sound ${n}`, noise(10_000, 1, n, RATE, 1));
    expect([0, 1, 2, 3, 4].map((n) => store.find(`sound ${n}`) !== null)).toEqual([false, false, false, true, true]);
    store.keep('too large', noise(30_000, 1, 9, RATE, 1));
    expect(store.find('too large')).toBeNull();
    expect(store.find('sound 4')).not.toBeNull();
    store.close();
    remove(folder);
  });

  test('damaged pages cost the renders, and nothing else', () => {
    const folder = scratch();
    const path = join(folder, 'renders');
    new RenderStore(path).close();
    const first = new RenderStore(path);
    first.keep('one', noise(60_000, 1, 1, RATE, 1));
    first.close();
    const bytes = readFileSync(path);
    writeFileSync(path, bytes.fill(7, 4096));
    const store = new RenderStore(path);
    expect(store.find('one')).toBeNull();
    store.keep('one', noise(60_000, 1, 1, RATE, 1));
    expect(store.find('one')).not.toBeNull();
    store.close();
    remove(folder);
  });

  test('where no file can be made renders are kept in memory', () => {
    const store = new RenderStore('/proc/no-such-place/renders');
    store.keep('one', noise(100, 1, 1, RATE, 1));
    expect(store.find('one')).not.toBeNull();
    store.close();
  });

  test('gives any stretch of a render over its blocks, and nothing where it has gone', () => {
    const folder = scratch();
    const store = new RenderStore(join(folder, 'renders'));
    const audio = noise(150_000, 2, 3, RATE, 1);
    store.keep('long', audio);
    const found = store.find('long');
    if (!found) throw new Error('It was not kept.');
    for (const [from, to] of [
      [0, 150_000],
      [65_000, 66_000],
      [131_071, 131_073],
      [149_999, 150_000],
      [7, 7],
    ] as const)
      expectSame(store.read(found, from, to) as Audio, cut(audio, from, to));
    expect(store.read({ ...found, id: 99 }, 0, 10)).toBeNull();
    store.close();
    remove(folder);
  });
});
