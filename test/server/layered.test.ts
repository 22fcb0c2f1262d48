import type { Change } from '../../src/contract/edits';
import type { HitUses } from '../../src/contract/hits';
import { resolvedKit } from '../../src/contract/resolved';
import type { Dependents, KitDocs, ListedHit } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import { MOST_DEPTH, MOST_MEMBERS } from '../../src/core/layering/parameters';
import { resampled } from '../../src/core/resampling/sinc';
import { cut } from '../../src/core/signal/audio';
import { fromDb } from '../../src/core/signal/units';
import { creditsOf } from '../../src/server/exporting/kit-bundle';
import { errorOf } from './client';
import { served } from './served';
import { expectSame, hitView, noise, soundOf } from './sounds';

const at = served();
const RATE = 22_050;

const mill = noise(40_000, 1, 1, RATE);
const weir = noise(30_000, 2, 2, 44_100);

let [millId, weirId] = ['', ''];

const create = (doc: Change['doc'], id: string, value: Record<string, unknown>): Change => ({
  op: 'create',
  doc,
  id,
  value,
});
const hit = (id: string, name: string, recordingId: string, startFrame: number, endFrame: number) =>
  create('hit', id, { name, recordingId, startFrame, endFrame, family: null, sliceId: null });
const member = (id: string, layeredId: string, hitId: string, value: Record<string, unknown> = {}) =>
  create('member', id, { layeredId, hitId, position: 0, ...value });
/** What an edit that is refused is answered with. */
async function refused(changes: readonly Change[]): Promise<string> {
  const { status, body } = await at.client.post('/api/edits', { browser: 'test-browser-0001', label: 'no', changes });
  expect(status).toBe(409);
  return errorOf(body).message;
}

beforeAll(async () => {
  millId = (await at.client.import('Mill.wav', writeWav(mill, 's16'))).recordingId;
  weirId = (await at.client.import('Weir.wav', writeWav(weir, 's16'))).recordingId;
  await at.client.edit('hits', [
    hit('hit-click-001', 'Click', millId, 100, 8100),
    hit('hit-low-00001', 'Low', weirId, 0, 20_000),
    hit('hit-both-0001', 'Both', millId, 100, 8100),
    member('member-click1', 'hit-both-0001', 'hit-click-001', { levelDb: -6 }),
    member('member-low-01', 'hit-both-0001', 'hit-low-00001', {
      position: 1,
      offsetFrames: 50,
      inverted: true,
      pan: 1,
    }),
  ]);
});

test('a layered hit is the sum of its layers at the first one’s rate', async () => {
  const both = await hitView(at.client, 'hit-both-0001');
  const sound = await soundOf(at.client, both);
  const low = resampled(cut(weir, 0, 20_000), 2);
  expect(sound.sampleRate).toBe(RATE);
  expect(sound.channels[0]).toHaveLength(50 + (low.channels[0]?.length ?? 0));
  for (const i of [0, 49, 50, 1000, 7999, 8000, 9000]) {
    const click = i < 8000 ? fromDb(-6) * (mill.channels[0]?.[100 + i] as number) : 0;
    const right = i < 50 ? 0 : Math.SQRT2 * (low.channels[1]?.[i - 50] as number);
    expect(sound.channels[0]?.[i]).toBeCloseTo(click, 5);
    expect(sound.channels[1]?.[i]).toBeCloseTo(click - right, 5);
  }
});

test('a changed layer changes it; muted and lone layers are kept and not heard', async () => {
  const length = async () => (await soundOf(at.client, await hitView(at.client, 'hit-both-0001'))).channels[0]?.length;
  await at.client.edit('shorter', [
    create('step', 'step-low-00001', {
      hitId: 'hit-low-00001',
      processor: 'length',
      position: 0,
      how: 'fade',
      timeMs: 400,
    }),
  ]);
  const treated = await length();
  await at.client.edit('muted', [
    {
      op: 'update',
      doc: 'member',
      id: 'member-low-01',
      rev: at.client.rev('member', 'member-low-01'),
      set: { muted: true },
    },
  ]);
  expect(await length()).toBe(8000);
  await at.client.edit('alone', [
    {
      op: 'update',
      doc: 'member',
      id: 'member-low-01',
      rev: at.client.rev('member', 'member-low-01'),
      set: { alone: true },
    },
  ]);
  expect(await length()).toBe(RATE * 0.4);
  await at.client.step('undo');
  await at.client.step('undo');
  expect(await length()).toBe(treated);
});

test('a layer’s own steps are heard here only', async () => {
  await at.client.edit('reversed here', [
    create('memberStep', 'member-step-1', { memberId: 'member-click1', processor: 'reverse', position: 0 }),
  ]);
  const click = await hitView(at.client, 'hit-click-001');
  expect(click.steps).toHaveLength(0);
  const sound = await soundOf(at.client, await hitView(at.client, 'hit-both-0001'));
  expect(sound.channels[0]?.[0]).toBeCloseTo(fromDb(-6) * (mill.channels[0]?.[8099] as number), 5);
  await at.client.step('undo');
});

test('a hit and its inverted copy are silence; layers inside layers sound as one', async () => {
  await at.client.edit('inverted', [
    hit('hit-none-0001', 'None', millId, 100, 8100),
    member('member-none-1', 'hit-none-0001', 'hit-both-0001'),
    member('member-none-2', 'hit-none-0001', 'hit-both-0001', { position: 1, inverted: true }),
  ]);
  const none = await hitView(at.client, 'hit-none-0001');
  const sound = await soundOf(at.client, none);
  expect(sound.channels.every((channel) => channel.every((x) => x === 0))).toBe(true);
  const inner = none.members[0]?.hit as NonNullable<(typeof none.members)[0]>['hit'];
  await at.client.edit('one of them', [
    {
      op: 'update',
      doc: 'member',
      id: 'member-none-2',
      rev: at.client.rev('member', 'member-none-2'),
      set: { muted: true },
    },
  ]);
  expectSame(await soundOf(at.client, await hitView(at.client, 'hit-none-0001')), await soundOf(at.client, inner));
});

test('a hit in itself is refused and the way there named; so are too many layers, too deep ones and too long ones', async () => {
  const cycle = await refused([member('member-cycle1', 'hit-both-0001', 'hit-none-0001', { position: 5 })]);
  expect(cycle).toMatch(
    /cannot be a layer of itself: "(Both|None)" would contain "(None|Both)" would contain "(Both|None)"/,
  );
  expect(await refused([member('member-self-01', 'hit-low-00001', 'hit-low-00001')])).toMatch(
    /"Low" would contain "Low"/,
  );
  const many = Array.from({ length: MOST_MEMBERS + 1 }, (_, i) =>
    member(`member-many-${i}`, 'hit-low-00001', 'hit-click-001', { position: i }),
  );
  expect(await refused(many)).toMatch(/up to 8 layers/);
  const deep = Array.from({ length: MOST_DEPTH + 1 }, (_, i) => [
    hit(`hit-deep-000${i}`, `Deep ${i}`, millId, 0, 100),
    member(`member-deep-${i}`, `hit-deep-000${i}`, i === 0 ? 'hit-both-0001' : `hit-deep-000${i - 1}`),
  ]);
  expect(await refused(deep.flat())).toMatch(/up to 6 deep .*"Deep 6" in "Deep 5"/);
  const long = await at.client.import('Long.wav', writeWav(noise(130 * 8000, 1, 3, 8000), 's16'));
  const minutes = hit('hit-long-0001', 'Long', long.recordingId, 0, 130 * 8000);
  await at.client.edit('long', [minutes]);
  expect(await refused([member('member-long-1', 'hit-both-0001', 'hit-long-0001')])).toMatch(
    /"Long" is longer than 120 s/,
  );
  await at.client.edit('shorter', [
    {
      op: 'update',
      doc: 'hit',
      id: 'hit-long-0001',
      rev: at.client.rev('hit', 'hit-long-0001'),
      set: { endFrame: 60 * 8000 },
    },
  ]);
  // A minute is no matter.
  await at.client.edit('a minute', [member('member-long-1', 'hit-both-0001', 'hit-long-0001', { position: 9 })]);
  const sound = await soundOf(at.client, await hitView(at.client, 'hit-both-0001'));
  expect(sound.channels[0]?.length).toBe(60 * RATE);
  await at.client.step('undo');
});

test('a kit’s credits name the recordings of the layers, and not one that a layered hit was only made around', async () => {
  const other = await at.client.import('Held.wav', writeWav(noise(9000, 1, 9, RATE), 's16'));
  await at.client.edit('a kit', [
    create('kit', 'kit-credits-01', { name: 'Credits' }),
    hit('hit-around-01', 'Around', other.recordingId, 0, 9000),
    member('member-around', 'hit-around-01', 'hit-low-00001'),
    create('pad', 'pad-credits-01', { kitId: 'kit-credits-01', position: 0, name: 'Around', family: null }),
    create('layer', 'layer-credits1', { padId: 'pad-credits-01', hitId: 'hit-around-01', position: 0 }),
  ]);
  const credits = creditsOf(resolvedKit(await at.client.get<KitDocs>('/api/kits/kit-credits-01')));
  expect(credits.map(({ title, pads }) => [title, pads])).toEqual([['Weir', ['Around']]]);
  await at.client.step('undo');
});

test('what a removed hit and a removed recording take with them is told; removing takes the layer, undoing gives it back', async () => {
  const uses = (await at.client.post('/api/hits/uses', { ids: ['hit-low-00001'] })).body as HitUses;
  expect(uses.layered).toEqual(['Both']);
  const dependents = await at.client.get<Dependents>(`/api/recordings/${weirId}/dependents`);
  expect(dependents.hits.map(({ name }) => name)).toEqual(['Both', 'Low', 'None']);
  await at.client.edit('binned', [
    { op: 'update', doc: 'hit', id: 'hit-low-00001', rev: at.client.rev('hit', 'hit-low-00001'), set: { binnedAt: 1 } },
  ]);
  const removal = { browser: 'test-browser-0001', tab: '', key: crypto.randomUUID(), ids: ['hit-low-00001'] };
  expect((await at.client.post('/api/hits/remove', removal)).status).toBe(200);
  const layers = async () =>
    (await at.client.get<ListedHit[]>('/api/hits')).find(({ id }) => id === 'hit-both-0001')?.members.length;
  expect(await layers()).toBe(1);
  await at.client.step('undo');
  expect(await layers()).toBe(2);
});
