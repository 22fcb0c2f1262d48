import type { ErrorAnswer, HitView } from '../../src/contract/views';
import type { MadeVoice, PrintedStrokes } from '../../src/contract/voices';
import { decodeFrames } from '../../src/core/format/pcm';
import { filled } from '../../src/core/parameter/values';
import { VOICE_PARAMETERS } from '../../src/core/voice/parameters';
import { renderVoice } from '../../src/core/voice/render';
import { soon } from '../harness';
import { served } from './served';

const at = served();
const browser = 'test-browser-0001';
const settings = { toneHz: 61, sweep: 12, noiseDb: -20 };
const voice = { settings, seed: 5, velocity: 127 };

async function made(): Promise<MadeVoice> {
  const { status, body } = await at.client.post('/api/voices', { browser, name: 'Barrel', family: 'kick', voice });
  expect(status).toBe(200);
  return body as MadeVoice;
}

const hits = () => at.client.get<HitView[]>('/api/hits');
const errorOf = (body: unknown) => (body as ErrorAnswer).error;

test('a voice becomes a hit whose recording is its first stroke, free to use; it is edited and undone', async () => {
  const { hitId, recordingId } = await made();
  const hit = (await hits()).find(({ id }) => id === hitId);
  expect(hit).toMatchObject({ name: 'Barrel', family: 'kick', recordingId, startFrame: 0, voice });
  const recording = (await at.client.recordings()).find(({ id }) => id === recordingId);
  expect(recording).toMatchObject({ rightsKind: 'cc0', what: 'one-shot', sampleRate: 48_000, encoding: 'f32' });
  const stroke = renderVoice(filled(VOICE_PARAMETERS, settings), 127, 5, 48_000);
  expect(hit?.endFrame).toBe(stroke.channels[0]?.length);
  const turned = { ...voice, settings: { ...settings, toneHz: 70 } };
  await at.client.edit('turned', [{ op: 'update', doc: 'hit', id: hitId, rev: hit?.rev ?? 0, set: { voice: turned } }]);
  expect((await hits()).find(({ id }) => id === hitId)?.voice).toEqual(turned);
  await at.client.step('undo');
  expect((await hits()).find(({ id }) => id === hitId)?.voice).toEqual(voice);
  await at.client.step('undo');
  expect((await hits()).some(({ id }) => id === hitId)).toBe(false);
  await at.client.step('redo');
  await soon(async () => expect((await at.client.recordings()).every(({ analysed }) => analysed)).toBe(true));
});

test('strokes at several velocities are printed in one go, each a hit, as the core renders them', async () => {
  const { hitId } = await made();
  const { status, body } = await at.client.post(`/api/hits/${hitId}/strokes`, {
    browser,
    velocities: [127, 40],
    each: 2,
  });
  expect(status).toBe(200);
  const { recordingId, strokes } = body as PrintedStrokes;
  expect(strokes.map(({ velocity }) => velocity)).toEqual([40, 40, 127, 127]);
  const all = new Map((await hits()).map((hit) => [hit.id, hit]));
  for (const [i, { hitId: id, velocity }] of strokes.entries()) {
    const hit = all.get(id);
    expect(hit).toMatchObject({ recordingId, voice: null, family: 'kick' });
    const { startFrame = 0, endFrame = 0 } = hit ?? {};
    const answer = await fetch(
      `${at.client.address}/api/recordings/${recordingId}/pcm?start=${startFrame}&frames=${endFrame - startFrame}`,
    );
    const [samples] = decodeFrames('f32', new Uint8Array(await answer.arrayBuffer()), 1);
    expect(samples).toEqual(renderVoice(filled(VOICE_PARAMETERS, settings), velocity, 5 + i, 48_000).channels[0]);
  }
});

test('settings out of range, of a hit that is no voice, or of none are refused with what would be right', async () => {
  const bad = { ...voice, settings: { toneHz: 5 } };
  const answer = await at.client.post('/api/voices', { browser, name: 'Bad', family: 'kick', voice: bad });
  expect([answer.status, errorOf(answer.body).message]).toEqual([
    400,
    expect.stringMatching(/Tone pitch.*20 and 8000/),
  ]);
  const { hitId } = await made();
  const [printed] = (
    (await at.client.post(`/api/hits/${hitId}/strokes`, { browser, velocities: [90], each: 1 })).body as PrintedStrokes
  ).strokes;
  const refused = await at.client.post(`/api/hits/${printed?.hitId}/strokes`, { browser, velocities: [90], each: 1 });
  expect([refused.status, errorOf(refused.body).message]).toEqual([409, expect.stringMatching(/is no struck voice/)]);
  expect((await at.client.post('/api/hits/no-such-hit/strokes', { browser, velocities: [90], each: 1 })).status).toBe(
    404,
  );
});
