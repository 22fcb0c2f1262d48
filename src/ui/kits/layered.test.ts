import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView, RecordingView, ResolvedMember, StoredHit } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { Layer, Pad } from '@/core/kit/model';
import { KIT_INITIAL, LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { MEMBER_INITIAL } from '@/core/layering/parameters';
import { apart, asOneHit, layersToKit, whyNotApart } from './layered';
import { heardLayers } from './layers';

let made = 0;
const newId = () => `new-${String(++made).padStart(5, '0')}`;
const recording = { id: 'rec-0001', sampleRate: 48_000 } as RecordingView;
const hit = (id: string, members: readonly ResolvedMember[] = []): StoredHit => ({
  ...HIT_INITIAL,
  ...{ id, rev: 1, name: id, family: 'kick', recordingId: recording.id, startFrame: 0, endFrame: 900, sliceId: null },
  ...{ inherited: [], steps: [], buses: [], busSteps: [], members },
});
const pad = (id: string, position: number, family: Pad['family'] = 'kick'): Stored<Pad> => ({
  ...{ ...PAD_INITIAL, id, rev: 1, kitId: 'kit-0001', position, name: id, family },
});
const layer = (id: string, padId: string, hitId: string, position: number, set = {}): Stored<Layer> => ({
  ...{ ...LAYER_INITIAL, id, rev: 1, padId, hitId, position, ...set },
});
const kit = (pads: readonly Stored<Pad>[], layers: readonly Stored<Layer>[], hits: readonly StoredHit[]): KitView => ({
  ...{
    kit: { ...KIT_INITIAL, id: 'kit-0001', rev: 1, name: 'Weir' },
    pads,
    layers,
    steps: [],
    buses: [],
    busSteps: [],
    variations: [],
    hits,
    recordings: [recording],
  },
});
const valueIn = (change: Change | undefined) => (change?.op === 'create' ? change.value : {});

test('a pad’s layers become the members of one hit, which the pad plays instead; apart they are layers as they were', () => {
  const [click, low] = [hit('click'), hit('low')];
  const stone = pad('stone', 0);
  const set = { levelDb: -3, pan: 0.5, semitones: 2, offsetMs: 1, inverted: true };
  const view = kit([stone], [layer('l-1', 'stone', 'click', 0), layer('l-2', 'stone', 'low', 1, set)], [click, low]);
  const changes = asOneHit(stone, heardLayers(view, view.layers), new Set(['stone']), 'hit-one', newId);
  expect(changes.map(({ op, doc }) => `${op} ${doc}`)).toEqual([
    'create hit',
    'create member',
    'create member',
    'remove layer',
    'remove layer',
    'create layer',
  ]);
  expect(valueIn(changes[0])).toMatchObject({ name: 'stone 2', family: 'kick', recordingId: 'rec-0001' });
  expect(valueIn(changes[2])).toMatchObject({ hitId: 'low', layeredId: 'hit-one', offsetFrames: 48, inverted: true });

  const members = [click, low].map((of, n) => ({
    ...{ ...MEMBER_INITIAL, ...(valueIn(changes[n + 1]) as object), id: `m-${n}`, rev: 1, layeredId: 'hit-one' },
    ...{ hitId: of.id, position: n, steps: [], hit: of },
  })) as ResolvedMember[];
  const one = hit('hit-one', members);
  const alone = layer('l-3', 'stone', 'hit-one', 0, { levelDb: -1 });
  const back = apart({ layer: alone, hit: one, recording }, newId).map(valueIn);
  expect(back[2]).toMatchObject({ ...set, levelDb: -4, hitId: 'low', padId: 'stone' });
  expect(asOneHit(stone, [], new Set(), 'hit-none', newId)).toEqual([]);
});

test('what the layers of a pad cannot have is told', () => {
  const member = {
    ...MEMBER_INITIAL,
    id: 'm',
    rev: 1,
    layeredId: 'x',
    hitId: 'a',
    position: 0,
    steps: [],
    hit: hit('a'),
  };
  expect(whyNotApart(hit('x', [member]), 0)).toBe('');
  expect(whyNotApart(hit('x', [{ ...member, bandsDb: [0, -9] }]), 0)).toMatch(/bands of its own/);
  expect(whyNotApart(hit('x', [member, member]), 7)).toMatch(/up to 8 sounds/);
});

test('layers are copied beside the same roles of another kit, with their settings; what finds no role is named', () => {
  const view = kit(
    [pad('kick 1', 0), pad('kick 2', 1), pad('snare 1', 8, 'snare'), pad('clap 1', 10, 'clap')],
    [
      layer('a', 'kick 1', 'click', 0),
      layer('b', 'kick 2', 'click', 0),
      layer('c', 'kick 2', 'low', 1, { levelDb: -6, inverted: true }),
      layer('d', 'snare 1', 'click', 0),
      layer('e', 'clap 1', 'click', 0),
      layer('f', 'clap 1', 'low', 1),
    ],
    [hit('click'), hit('low')],
  );
  const other = kit([pad('low kick', 3), pad('high kick', 5)], [layer('g', 'high kick', 'x', 4)], []);
  const { changes, pads, missing } = layersToKit(view, view.pads, other, newId);
  expect([pads, missing]).toEqual([['high kick'], ['clap 1']]);
  expect(changes).toHaveLength(1);
  expect(valueIn(changes[0])).toMatchObject({
    padId: 'high kick',
    hitId: 'low',
    levelDb: -6,
    inverted: true,
    position: 5,
  });
  expect(layersToKit(view, [view.pads[0] as Stored<Pad>], other, newId).changes).toEqual([]);
});
