import type { HitView } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { cutAtStrikes } from './edits';

const hit: HitView = {
  ...HIT_INITIAL,
  id: 'hit-000001',
  rev: 3,
  name: 'Clank 1',
  family: 'percussion',
  recordingId: 'rec-000001',
  startFrame: 100,
  endFrame: 9000,
  sliceId: null,
  inherited: [],
  members: [],
  steps: [
    {
      id: 'step-0001',
      rev: 1,
      hitId: 'hit-000001',
      processor: 'level',
      position: 1,
      active: true,
      to: 'gain',
      gainDb: -3,
    },
  ],
  strikes: [4000, 6000],
  kits: [],
};

test('a hit of three strikes becomes three hits end to end, the first of which keeps its id', () => {
  let n = 0;
  const changes = cutAtStrikes(hit, new Set(['Clank 1', 'Clank 2']), () => `new-${++n}`);
  expect(changes[0]).toMatchObject({ op: 'update', id: 'hit-000001', rev: 3, set: { endFrame: 4000, strikes: [] } });
  // What is done to it is done to each: fields that are added later go along as well.
  expect(changes.slice(1)).toMatchObject([
    {
      op: 'create',
      doc: 'hit',
      id: 'new-1',
      value: { name: 'Clank 3', startFrame: 4000, endFrame: 6000, strikes: [] },
    },
    { op: 'create', doc: 'step', value: { hitId: 'new-1', processor: 'level', gainDb: -3 } },
    {
      op: 'create',
      doc: 'hit',
      id: 'new-3',
      value: { name: 'Clank 4', startFrame: 6000, endFrame: 9000, family: 'percussion' },
    },
    { op: 'create', doc: 'step', value: { hitId: 'new-3', gainDb: -3 } },
  ]);
});

test('strikes outside what is left of the hit are passed over', () => {
  const changes = cutAtStrikes({ ...hit, endFrame: 5000 }, new Set(), () => 'new-1');
  expect(changes.filter(({ doc }) => doc === 'hit')).toHaveLength(2);
  expect(changes[1]).toMatchObject({ value: { startFrame: 4000, endFrame: 5000 } });
});
