import { availableParallelism } from 'node:os';
import type { SoundsView } from '../../src/contract/views';
import { unpackSound } from '../../src/core/describe/pack';
import { writeWav } from '../../src/core/format/wav';
import type { Rhythm } from '../../src/core/rhythm/rhythm';
import { seededRandom } from '../../src/core/signal/random';
import { demoWorkspace, remove, type Server, scratch, soon, startServer } from '../harness';
import { Client } from './client';

let folder: string;
let server: Server;
let client: Client;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(demoWorkspace(folder));
  client = new Client(server.address);
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

async function idOf(title: string): Promise<string> {
  const recording = (await client.recordings()).find((r) => r.title === title);
  if (!recording) throw new Error(`The demo has no ${title}.`);
  return recording.id;
}

async function sounds(id: string): Promise<SoundsView> {
  return (await (await fetch(`${server.address}/api/recordings/${id}/sounds`)).json()) as SoundsView;
}

async function allHeard(id: string): Promise<SoundsView> {
  return soon(async () => {
    const view = await sounds(id);
    expect(view.unheard).toBe(0);
    return view;
  });
}

test('slices are listened to when they are asked for, each stretch once', async () => {
  const id = await idOf('Headrace loop');
  const first = await sounds(id);
  const { slices, recording } = await client.cut(id);
  expect(first.sounds.length + first.unheard).toBe(slices.length);
  const view = await allHeard(id);
  expect(view.sounds.map((s) => s.startFrame).sort((a, b) => a - b)).toEqual(slices.map((s) => s.startFrame));
  for (const { figures, startFrame, endFrame } of view.sounds) {
    const { figures: told, chances } = unpackSound(Buffer.from(figures ?? '', 'base64'));
    expect(told.seconds).toBeCloseTo((endFrame - startFrame) / recording.sampleRate, 4);
    expect(chances.main.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
  }
});

test('figures that are known to who asks are not sent again', async () => {
  const id = await idOf('Headrace loop');
  const all = (await allHeard(id)).sounds.map((s) => s.id).sort((a, b) => a - b);
  const after = all[all.length >> 1] as number;
  const rest = await client.get<SoundsView>(`/api/recordings/${id}/sounds?after=${after}`);
  expect(rest.sounds.map((s) => s.id).sort((a, b) => a - b)).toEqual(all);
  for (const { id: sound, figures } of rest.sounds) expect(figures === null).toBe(sound <= after);
  const wrong = await client.ask('GET', `/api/recordings/${id}/sounds?after=-1`);
  expect(wrong.status).toBe(400);
});

test('a slice whose edge has moved is listened to anew, and undoing finds the old figures', async () => {
  const id = await idOf('Sluice loop');
  const before = await allHeard(id);
  const slice = (await client.cut(id)).slices[2];
  if (!slice) throw new Error('The loop has no third slice.');
  await client.edit('moved an end', [
    {
      op: 'update',
      doc: 'slice',
      id: slice.id,
      rev: client.rev('slice', slice.id),
      set: { endFrame: slice.endFrame - 500 },
    },
  ]);
  // The edit itself has the new stretch listened to, so that it may be there already: the old one is gone in any case.
  const ends = (view: SoundsView) =>
    view.sounds.filter((s) => s.startFrame === slice.startFrame).map((s) => s.endFrame);
  expect(ends(await sounds(id))).not.toContain(slice.endFrame);
  const moved = await allHeard(id);
  expect(moved.sounds.length).toBe(before.sounds.length);
  expect(ends(moved)).toEqual([slice.endFrame - 500]);
  await client.step('undo');
  const after = await sounds(id);
  expect(after.unheard).toBe(0);
  const own = (view: SoundsView) => view.sounds.find((s) => s.startFrame === slice.startFrame);
  expect(own(after)).toEqual(own(before));
});

test('shelves and families that a person gave are there after a kill', async () => {
  const id = await idOf('Sack-floor takes');
  const [a, b] = (await client.cut(id)).slices;
  if (!a || !b) throw new Error('The takes have no slices.');
  const shelf = 'shelf-of-thuds';
  await client.edit('moved a slice to another shelf', [
    { op: 'update', doc: 'slice', id: a.id, rev: client.rev('slice', a.id), set: { shelf, family: 'effect' } },
    { op: 'update', doc: 'slice', id: b.id, rev: client.rev('slice', b.id), set: { shelf } },
  ]);
  const { workspace } = server;
  await server.kill();
  server = await startServer(workspace);
  client = new Client(server.address);
  const [again, other] = (await client.cut(id)).slices;
  expect(again).toMatchObject({ shelf, family: 'effect' });
  expect(other).toMatchObject({ shelf, family: null });
  await expect(
    client.edit('nonsense', [{ op: 'update', doc: 'slice', id: a.id, rev: again?.rev ?? 0, set: { shelf: 'no id!' } }]),
  ).rejects.toThrow(/slice\.shelf/);
});

/** The rhythm that is kept with a recording, once it is as it ought to be. */
async function rhythmOnce(id: string, isSo: (rhythm: Rhythm) => boolean): Promise<Rhythm> {
  return soon(async () => {
    const { rhythm } = await sounds(id);
    if (!rhythm || !isSo(rhythm)) throw new Error('The rhythm did not come to be as it ought to.');
    return rhythm;
  });
}

const onTwo = availableParallelism() > 1 ? test : test.skip;

onTwo('a recording of many slices is listened to from both ends', async () => {
  const sampleRate = 22050;
  const random = seededRandom(3);
  const burst = Math.round(sampleRate / 4);
  const samples = Float32Array.from(
    { length: 600 * burst },
    (_, i) => (random() - 0.5) * Math.exp(-(i % burst) / 500) * (0.5 + 0.5 * ((i % (7 * burst)) / (7 * burst))),
  );
  const { recordingId } = await client.import('many.wav', writeWav({ sampleRate, channels: [samples] }, 's16'));
  const starts = (await client.cut(recordingId)).slices.map((s) => s.startFrame);
  let fromBothEnds = false;
  for (;;) {
    const view = await sounds(recordingId);
    const heard = new Set(view.sounds.map((s) => s.startFrame));
    if (view.unheard === 0) break;
    const [first, last] = [starts[0], starts.at(-1)].map((start) => heard.has(start as number));
    fromBothEnds ||= first === true && last === true;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  expect(fromBothEnds).toBe(true);
  const all = await allHeard(recordingId);
  expect(all.sounds.map((s) => s.startFrame).sort((a, b) => a - b)).toEqual(starts);
});

test('the rhythm is kept with the recording, follows what a person says, and goes back when that is undone', async () => {
  const id = await idOf('Sluice loop');
  await allHeard(id);
  const { slices, cut } = await client.cut(id);
  const rhythm = await rhythmOnce(id, ({ notes }) => notes.length === slices.length);
  expect(rhythm.notes.map((n) => n.frame)).toEqual(slices.map((s) => s.startFrame));
  expect(Math.max(...rhythm.notes.map((n) => n.velocity))).toBe(1);
  // The demo's drummer plays at 94 to the minute.
  expect(rhythm.bpm).toBeGreaterThan(92);
  expect(rhythm.bpm).toBeLessThan(96);
  if (!cut) throw new Error('The loop has no cut.');
  await client.edit('set the tempo', [
    { op: 'update', doc: 'cut', id, rev: cut.rev, set: { tempoBpm: 47, downbeatFrame: slices[1]?.startFrame ?? 0 } },
  ]);
  const said = await rhythmOnce(id, ({ bpm }) => bpm === 47);
  expect(said).toMatchObject({ bpmConfidence: 1, downbeatConfidence: 1, downbeatFrame: slices[1]?.startFrame });
  expect(said.notes[1]?.quarters).toBe(0);
  await client.step('undo');
  expect(await rhythmOnce(id, ({ bpm }) => bpm !== 47)).toEqual(rhythm);
});

test('of a recording that is not there it is said so', async () => {
  const { status, body } = await client.ask('GET', '/api/recordings/no-such-recording/sounds');
  expect(status).toBe(404);
  expect(body).toMatchObject({ error: { code: 'not-found' } });
});
