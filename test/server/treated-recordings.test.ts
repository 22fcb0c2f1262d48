import { unzipSync } from 'fflate';
import type { Change } from '../../src/contract/edits';
import type { CutView, ImportAnswer, RecordingView } from '../../src/contract/views';
import { readWav, writeWav } from '../../src/core/format/wav';
import { audioKey } from '../../src/core/hit/key';
import { renderHit } from '../../src/core/hit/render';
import { resampled } from '../../src/core/resampling/sinc';
import { cut, peakOf } from '../../src/core/signal/audio';
import { errorOf } from './client';
import { served } from './served';
import { bytesOf, expectSame, hitView, noise, soundOf } from './sounds';

const at = served();
const RATE = 22_050;

/** Bits of a sample, by the header (Microsoft and IBM, "Multimedia Programming Interface"). */
const bitsOf = (wav: Uint8Array) => Buffer.from(wav).readUInt16LE(34);

const step = (id: string, value: Record<string, unknown>): Change => ({
  op: 'create',
  doc: 'recordingStep',
  id,
  value: { position: 0, ...value },
});
const hitChange = (id: string, recordingId: string, value: Record<string, unknown>): Change => ({
  op: 'create',
  doc: 'hit',
  id,
  value: { family: null, sliceId: null, recordingId, ...value },
});
describe('a treated recording', () => {
  const wav = writeWav(noise(60_000, 2, 1, RATE), 's16');
  const source = readWav(wav).audio;
  let recordingId = '';

  beforeAll(async () => {
    ({ recordingId } = await at.client.import('Flood.wav', wav));
    await at.client.edit('hits', [
      hitChange('hit-inherit-1', recordingId, { name: 'One', startFrame: 1000, endFrame: 9000 }),
      hitChange('hit-inherit-2', recordingId, { name: 'Two', startFrame: 20_000, endFrame: 30_000 }),
      {
        op: 'create',
        doc: 'step',
        id: 'step-own-0001',
        value: { hitId: 'hit-inherit-2', processor: 'reverse', position: 0 },
      },
    ]);
    await at.client.edit('treated', [
      step('step-of-rec-1', { recordingId, processor: 'channels', take: 'mid' }),
      step('step-of-rec-2', { recordingId, processor: 'saturation', driveDb: 12, position: 1 }),
    ]);
  });

  test('its hits inherit its steps before their own, and one can leave them', async () => {
    const [one, two] = [await hitView(at.client, 'hit-inherit-1'), await hitView(at.client, 'hit-inherit-2')];
    expect(two.inherited.map((s) => s.processor)).toEqual(['channels', 'saturation']);
    const steps = [...two.inherited, ...two.steps];
    expect(steps.map((s) => s.processor)).toEqual(['channels', 'saturation', 'reverse']);
    // The same steps as a hit's own give the same samples.
    const own = { ...two, inherited: [], steps };
    expectSame(await soundOf(at.client, two), renderHit(own, () => cut(source, 20_000, 30_000)).audio);
    await at.client.edit('left', [{ op: 'update', doc: 'hit', id: one.id, rev: one.rev, set: { inherits: false } }]);
    const left = await hitView(at.client, one.id);
    expect(audioKey(left)).toBe(audioKey({ ...left, inherited: [] }));
    await at.client.step('undo');
    expect((await soundOf(at.client, await hitView(at.client, one.id))).channels).toHaveLength(1);
    const view = (await at.client.recordings()).find((r) => r.id === recordingId) as RecordingView;
    expect(view.steps.map((s) => s.id)).toEqual(['step-of-rec-1', 'step-of-rec-2']);
  });

  test.each([
    ['shapes one sound', { processor: 'fades', outMs: 20 }],
    ['level of a recording is a gain', { processor: 'level', to: 'peak' }],
    ['Drive lies between', { processor: 'saturation', driveDb: 99 }],
  ])('%s: refused with the reason, and nothing is stored', async (reason, value) => {
    const refused = at.client.edit('no', [step('step-of-rec-9', { recordingId, ...value })]);
    await expect(refused).rejects.toThrow(reason);
    expect((await at.client.recordings()).find((r) => r.id === recordingId)?.steps).toHaveLength(2);
  });

  test('a stretch is printed as it sounds, with its slices and bookmarks', async () => {
    await at.client.cut(recordingId);
    await at.client.edit('marks', [
      {
        op: 'create',
        doc: 'slice',
        id: 'slice-print-01',
        value: { recordingId, startFrame: 12_000, endFrame: 16_000, origin: 'hand', family: 'snare', name: 'Gate' },
      },
      { op: 'create', doc: 'bookmark', id: 'mark-print-001', value: { recordingId, frame: 13_000, label: 'here' } },
      { op: 'create', doc: 'bookmark', id: 'mark-print-002', value: { recordingId, frame: 50_000, label: 'not here' } },
    ]);
    const by = { browser: 'test-browser-0001', tab: '' };
    const answer = await at.client.post(`/api/recordings/${recordingId}/print`, {
      ...by,
      startFrame: 10_000,
      endFrame: 20_000,
    });
    expect(answer.status).toBe(200);
    const printed = (answer.body as ImportAnswer).recordingId;
    const view = await at.client.get<CutView>(`/api/recordings/${printed}/cut`);
    expect(view.recording).toMatchObject({ frames: 10_000, channelCount: 1, encoding: 'f32' });
    expect(view.recording.notes).toMatch(/Printed from Flood at 0\.454 s/);
    expect(view.slices.find((s) => s.name === 'Gate')).toMatchObject({
      startFrame: 2000,
      endFrame: 6000,
      family: 'snare',
    });
    expect(view.story.bookmarks).toMatchObject([{ frame: 3000, label: 'here' }]);
    const pcm = await fetch(`${at.server.address}/api/recordings/${printed}/pcm?start=0&frames=10000`);
    const [hit] = [await hitView(at.client, 'hit-inherit-1')];
    const wanted = renderHit({ ...hit, steps: [] }, () => cut(source, 10_000, 20_000)).audio;
    expect(Buffer.from(await pcm.arrayBuffer()).equals(bytesOf(wanted.channels[0]))).toBe(true);
    const beyond = await at.client.post(`/api/recordings/${recordingId}/print`, { ...by, startFrame: 99_000 });
    expect([beyond.status, errorOf(beyond.body).message]).toEqual([400, expect.stringContaining('has 60000')]);
    const nowhere = await at.client.post('/api/recordings/recording-none/print', by);
    expect(nowhere.status).toBe(404);
  });

  test('its steps go with it when it is removed for good, and a hit too long to be rendered keeps it from being treated', async () => {
    const long = await at.client.import(
      'Long.wav',
      writeWav({ sampleRate: 8000, channels: [new Float32Array(8000 * 121).fill(0.01)] }, 'u8'),
    );
    await at.client.edit('hit', [
      hitChange('hit-too-long-1', long.recordingId, { name: 'Long', startFrame: 0, endFrame: 8000 * 121 }),
    ]);
    const treat = () =>
      at.client.edit('no', [step('step-of-long-1', { recordingId: long.recordingId, processor: 'channels' })]);
    await expect(treat()).rejects.toThrow(/“?Long.*longer than 120 s/);
    await at.client.edit('leaves', [
      {
        op: 'update',
        doc: 'hit',
        id: 'hit-too-long-1',
        rev: at.client.rev('hit', 'hit-too-long-1'),
        set: { inherits: false },
      },
    ]);
    await treat();
  });
});

describe('hits in a zip', () => {
  let recordingId = '';
  const wav = writeWav(noise(30_000, 1, 5, RATE), 's16');
  const source = readWav(wav).audio;
  const files = async (query: string) => {
    const answer = await fetch(`${at.server.address}/api/hits/export?${query}`);
    expect(answer.status).toBe(200);
    return unzipSync(new Uint8Array(await answer.arrayBuffer()));
  };
  const wavOf = (zip: Record<string, Uint8Array>, name: string) => readWav(zip[name] as Uint8Array);

  beforeAll(async () => {
    ({ recordingId } = await at.client.import('Weir.wav', wav));
    await at.client.edit('hits', [
      hitChange('hit-in-zip-01', recordingId, { name: 'Plain/1', startFrame: 100, endFrame: 8101 }),
      hitChange('hit-in-zip-02', recordingId, { name: 'Quiet', startFrame: 100, endFrame: 8100 }),
      hitChange('hit-in-zip-03', recordingId, { name: 'Loud', startFrame: 100, endFrame: 8100 }),
      {
        op: 'create',
        doc: 'step',
        id: 'step-in-zip-1',
        value: { hitId: 'hit-in-zip-02', processor: 'level', position: 0, gainDb: -20 },
      },
      {
        op: 'create',
        doc: 'step',
        id: 'step-in-zip-2',
        value: { hitId: 'hit-in-zip-03', processor: 'level', position: 0, gainDb: 20 },
      },
    ]);
  });
  const ids = 'ids=hit-in-zip-01,hit-in-zip-02,hit-in-zip-03';

  test('each has its name; what needs no rounding is exact, what does is dithered, what is over full scale is floats', async () => {
    const zip = await files(`${ids}&encoding=s16`);
    expect(Object.keys(zip).sort()).toEqual([
      'Loud.wav',
      'PRIVATE - not to be passed on.txt',
      'Plain-1.wav',
      'Quiet.wav',
      'credits.txt',
    ]);
    expectSame(wavOf(zip, 'Plain-1.wav').audio, cut(source, 100, 8101));
    const quiet = wavOf(zip, 'Quiet.wav').audio.channels[0] as Float32Array;
    // Rounding and triangular dither: the error's power is 1/12 + 2/12 of a step (Lipshitz and others, 1992).
    const errors = quiet.map((x, i) => (x - 0.1 * ((source.channels[0] as Float32Array)[100 + i] as number)) * 32_768);
    const power = errors.reduce((sum, e) => sum + e * e, 0) / errors.length;
    expect(Math.abs(power - 0.25)).toBeLessThan(0.02);
    expect(Math.max(...errors.map(Math.abs))).toBeLessThanOrEqual(1.5);
    const loud = wavOf(zip, 'Loud.wav');
    expect([bitsOf(zip['Quiet.wav'] as Uint8Array), bitsOf(zip['Loud.wav'] as Uint8Array)]).toEqual([16, 32]);
    expect(peakOf(loud.audio.channels)).toBeGreaterThan(1);
  });

  test('at another rate it lasts as long; 24 bits are finer than 16', async () => {
    const zip = await files(`${ids}&rate=44100&encoding=s24`);
    const { audio } = wavOf(zip, 'Plain-1.wav');
    expect([audio.sampleRate, bitsOf(zip['Plain-1.wav'] as Uint8Array), audio.channels[0]?.length]).toEqual([
      44_100, 24, 16_002,
    ]);
    const wanted = resampled(cut(source, 100, 8101), RATE / 44_100).channels[0] as Float32Array;
    const off = (audio.channels[0] as Float32Array).map((x, i) => Math.abs(x - (wanted[i] as number)));
    expect(off.reduce((a, b) => Math.max(a, b), 0)).toBeLessThan(2 ** -22);
  });

  test.each([
    ['ids=hit-in-zip-01&rate=100', 400, /between 8000 and 192000/],
    ['ids=hit-none-0001', 404, /not there/],
    ['ids=', 400, /id/i],
    ['ids=hit-in-zip-01&encoding=mp3', 400, /encoding/],
  ])('%s is answered %d', async (query, status, message) => {
    const { status: got, body } = await at.client.ask('GET', `/api/hits/export?${query}`);
    expect(got).toBe(status);
    expect(errorOf(body).message).toMatch(message);
  });
});
