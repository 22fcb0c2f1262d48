import { unzipSync } from 'fflate';
import { createdGroove } from '../../src/contract/groove-changes';
import type { GrooveView, HeardGroove, KitListEntry, RecordingView } from '../../src/contract/views';
import { readWav } from '../../src/core/format/wav';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { type Audio, peakOf, toMono } from '../../src/core/signal/audio';
import { demoRecordings } from '../../src/demo/scenario';
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

const newId = () => crypto.randomUUID();
const millstone = async () =>
  (await client.get<KitListEntry[]>('/api/kits')).find(({ name }) => name === 'Millstone')?.id as string;
const recording = async (title: string) =>
  (await client.get<RecordingView[]>('/api/recordings')).find((one) => one.title === title) as RecordingView;

async function printed(grooveId: string, more = ''): Promise<ReturnType<typeof unzipSync>> {
  const answer = await fetch(
    `${server.address}/api/grooves/${grooveId}/print?kit=${await millstone()}&for=self${more}`,
  );
  expect(answer.status).toBe(200);
  return unzipSync(new Uint8Array(await answer.arrayBuffer()));
}

/** The groove that is heard in a recording, stored. */
async function grooveOf(title: string): Promise<string> {
  const { id } = await recording(title);
  const heard = await soon(async () => {
    const { groove } = await client.get<HeardGroove>(`/api/recordings/${id}/groove`);
    expect(groove).not.toBeNull();
    return groove as NonNullable<typeof groove>;
  });
  const made = createdGroove(heard, newId);
  await client.edit(`the rhythm of ${title}`, made.changes);
  return made.id;
}

/** When strokes are heard, in seconds. */
const heardIn = (audio: Audio) =>
  selectOnsets(detectOnsets(toMono(audio), audio.sampleRate), SPLIT_INITIAL, audio.sampleRate).map(
    ({ frame }) => frame / audio.sampleRate,
  );

/** Of the first times, those that have one of the second within so many seconds. */
const matched = (of: readonly number[], to: readonly number[], withinS: number) =>
  of.filter((time) => to.some((other) => Math.abs(other - time) <= withinS)).length;

test.each(['Sluice loop', 'Headrace loop', 'Lock-keeper’s waltz'])(
  'the demo’s %s is rebuilt from its groove and the kit: its strokes are heard where they were',
  async (title) => {
    const known = title.replace('’', "'");
    const grooveId = await grooveOf((await recording(title)) ? title : known);
    const files = await printed(grooveId, '&rate=44100');
    const [wav] = Object.entries(files).find(([name]) => name.endsWith('.wav')) ?? [];
    const found = heardIn(readWav(files[wav as string] as Uint8Array).audio);
    const demo = demoRecordings().find(({ title: own }) => own === title || own === known);
    const wanted = heardIn(demo?.audio as Audio);
    // The groove begins with its first bar: by how much the print is early is one figure for all.
    const shifts = wanted.slice(0, 3).flatMap((time) => found.slice(0, 3).map((other) => time - other));
    const shifted = (shift: number) => found.map((time) => time + shift);
    const best = Math.max(...shifts.map((shift) => matched(wanted, shifted(shift), 0.012)));
    console.log(`${title}: ${best} of ${wanted.length} strokes rebuilt within 12 ms`);
    expect(best / wanted.length).toBeGreaterThanOrEqual(0.9);
  },
);

test('a lane and a note’s own values are in the print, and stems of buses beside it', async () => {
  const grooves = await client.get<{ id: string; name: string }[]>('/api/grooves');
  const id = grooves.find(({ name }) => name === 'Night watch')?.id as string;
  const { rows, notes } = await client.get<GrooveView>(`/api/grooves/${id}`);
  const kick = rows.find(({ note }) => note === 36)?.id as string;
  const peakOfKick = async () => {
    const files = await printed(id, '&stems=pads');
    const stem = Object.keys(files).find((name) => /stems\/Kick Sluice/.test(name)) as string;
    const [left] = readWav(files[stem] as Uint8Array).audio.channels as [Float32Array];
    return peakOf([left]);
  };
  const plain = await peakOfKick();
  const points = [{ tick: 0, value: -40 }];
  const value = { grooveId: id, rowId: kick, bus: '', step: '', parameter: 'levelDb', holds: false, points };
  await client.edit('drew a lane', [{ op: 'create', doc: 'grooveLane', id: newId(), value }]);
  expect((await peakOfKick()) / plain).toBeLessThan(0.05);
  await client.step('undo');
  const softer = notes
    .filter(({ rowId }) => rowId === kick)
    .map((note) => ({
      op: 'update' as const,
      doc: 'grooveNote' as const,
      id: note.id,
      rev: note.rev,
      set: { levelDb: -20 },
    }));
  await client.edit('softer', softer);
  expect((await peakOfKick()) / plain).toBeCloseTo(0.1, 1);
  await client.step('undo');
  expect(await peakOfKick()).toBeCloseTo(plain, 6);
  // The kit has no bus: all of it goes straight out.
  const stems = Object.keys(await printed(id, '&stems=buses')).filter((name) => name.startsWith('stems/'));
  expect(stems).toEqual(['stems/straight out.wav']);
});

test('a lane that makes no sense is refused in words', async () => {
  const grooves = await client.get<{ id: string }[]>('/api/grooves');
  const value = { grooveId: grooves[0]?.id, rowId: null, bus: '', step: '', parameter: 'levelDb', holds: false };
  const change = (points: unknown) => [{ op: 'create', doc: 'grooveLane', id: newId(), value: { ...value, points } }];
  const answer = await client.post('/api/edits', {
    ...{ label: 'wrong', changes: change([{ tick: -4, value: 1 }]), browser: client.browser, tab: 't', key: newId() },
  });
  expect(answer.status).toBe(400);
  expect(JSON.stringify(answer.body)).toMatch(/grooveLane\.points/);
});
