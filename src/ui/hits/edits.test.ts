import type { HitView } from '@/contract/views';
import { HIT_DEFAULTS } from '@/core/hit/model';
import { cutAtStrikes } from './edits';

const hit: HitView = {
  ...HIT_DEFAULTS,
  id: 'hit-000001',
  rev: 3,
  name: 'Clank 1',
  family: 'percussion',
  recordingId: 'rec-000001',
  startFrame: 100,
  endFrame: 9000,
  sliceId: null,
  gainDb: -3,
  strikes: [4000, 6000],
  kits: [],
};

test('a hit of three strikes becomes three hits end to end, the first of which keeps its id', () => {
  let n = 0;
  const changes = cutAtStrikes(hit, new Set(['Clank 1', 'Clank 2']), () => `new-${++n}`);
  expect(changes[0]).toMatchObject({ op: 'update', id: 'hit-000001', rev: 3, set: { endFrame: 4000, strikes: [] } });
  expect(changes.slice(1)).toMatchObject([
    { op: 'create', value: { name: 'Clank 3', startFrame: 4000, endFrame: 6000, gainDb: -3, strikes: [] } },
    { op: 'create', value: { name: 'Clank 4', startFrame: 6000, endFrame: 9000, family: 'percussion' } },
  ]);
});

test('strikes outside what is left of the hit are passed over', () => {
  const changes = cutAtStrikes({ ...hit, endFrame: 5000 }, new Set(), () => 'new-1');
  expect(changes).toHaveLength(2);
  expect(changes[1]).toMatchObject({ value: { startFrame: 4000, endFrame: 5000 } });
});
