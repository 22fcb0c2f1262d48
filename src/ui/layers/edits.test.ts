import type { HitView, ResolvedMember } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { MEMBER_INITIAL, OUT_DB } from '@/core/layering/parameters';
import { layered, linedUpChanges, sharedChanges, unsharedChanges } from './edits';
import { keptVariants, neighboursOf, placed, withHits } from './variants';

let made = 0;
const newId = () => `new-${++made}`;
const hit = (id: string, set: Partial<HitView> = {}): HitView => ({
  ...HIT_INITIAL,
  ...{ id, rev: 1, name: id, family: 'kick', recordingId: 'rec', startFrame: 5, endFrame: 900, sliceId: null },
  ...{ inherited: [], steps: [], members: [], kits: [] },
  ...set,
});
const member = (of: HitView, position: number, set: Partial<ResolvedMember> = {}): ResolvedMember => ({
  ...MEMBER_INITIAL,
  ...{ id: `m-${of.id}`, rev: 3, layeredId: 'sum', hitId: of.id, position, steps: [], hit: of },
  ...set,
});
const all = ['a', 'b', 'c', 'd', 'e', 'f', 'g'].map((id) => hit(id));
const [a, b] = all as [HitView, HitView];
const sum = hit('sum', { members: [member(a, 0), member(b, 1, { bandsDb: [0, -9] })] });

test('hits become the layers of one, named after the first, in its place', () => {
  const { name, changes } = layered([a, sum], new Set(['a layered']), 'made', newId);
  expect(name).toBe('a layered 2');
  expect(changes.map(({ doc }) => doc)).toEqual(['hit', 'member', 'member']);
  expect(changes[0]).toMatchObject({ id: 'made', value: { startFrame: 5, endFrame: 900, family: 'kick' } });
});

test('only layers that were moved or turned are changed', () => {
  const still = { offsetFrames: 0, inverted: false, movedFrames: 0 };
  const found = { sampleRate: 48_000, lostDb: 3, stillLostDb: 0 };
  expect(linedUpChanges(sum, { ...found, layers: [still, still] })).toEqual([]);
  const moved = linedUpChanges(sum, { ...found, layers: [still, { ...still, inverted: true }] });
  expect(moved).toMatchObject([{ id: 'm-b', rev: 3, set: { offsetFrames: 0, inverted: true } }]);
});

test('the spectrum is shared as proposed, and whole again', () => {
  const changes = sharedChanges(sum, {
    edgesHz: [120],
    gains: [
      [0, 1],
      [1, 0],
    ],
  });
  expect(changes[0]).toMatchObject({ doc: 'hit', set: { edgesHz: [120] } });
  expect(changes[1]).toMatchObject({ set: { bandsDb: [OUT_DB, 0] } });
  // Layers that have all bands are not touched.
  expect(unsharedChanges(sum).map(({ id }) => id)).toEqual(['sum', 'm-b']);
});

test('a layer’s neighbours are those of its family around it; variants keep what was found for them', () => {
  expect(neighboursOf([...all, sum], member(a, 0), 'sum').map(({ id }) => id)).toEqual(['a', 'b', 'c', 'd', 'e']);
  const d = all[3] as HitView;
  expect(neighboursOf([...all, hit('hat', { family: 'closed hat' })], member(d, 0), 'sum').map(({ id }) => id)).toEqual(
    ['b', 'c', 'd', 'e', 'f'],
  );
  const other = withHits(sum, new Map([['m-b', d]]));
  expect(other.members.map(({ hitId }) => hitId)).toEqual(['a', 'd']);
  const place = { offsetFrames: 7, inverted: true, levelDb: -2 };
  const variant = placed(other, { members: [place, place] });
  const changes = keptVariants([variant, variant], new Set(['sum']), [{ id: 'pad', takes: 1 }], newId);
  const values = changes.flatMap((change) => (change.op === 'create' ? [{ doc: change.doc, ...change.value }] : []));
  expect(values.filter(({ doc }) => doc === 'hit')).toMatchObject([{ name: 'sum 2' }, { name: 'sum 3' }]);
  expect(values.filter(({ doc }) => doc === 'member')[1]).toMatchObject({ hitId: 'd', ...place });
  expect(values.filter(({ doc }) => doc === 'variation')).toMatchObject([{ position: 1 }, { position: 2 }]);
});
