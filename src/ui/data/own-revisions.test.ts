import type { Change, Touched } from '@/contract/edits';
import { OwnRevisions } from './own-revisions';

const update = (rev: number, id = 'pad-00001'): Change => ({ op: 'update', doc: 'pad', id, rev, set: {} });
const revs = (changes: readonly Change[]) => changes.map((c) => (c.op === 'create' ? null : c.rev));
const touched = (rev: number, id = 'pad-00001'): Touched => ({ doc: 'pad', id, rev, scope: 'kit-00001' });

test('gestures that all saw one revision are carried over what the page did itself', () => {
  const own = new OwnRevisions();
  expect(revs(own.carryForward([update(4)]))).toEqual([4]);
  expect(revs(own.carryForward([update(4)]))).toEqual([5]);
  expect(revs(own.carryForward([update(5)]))).toEqual([6]);
  own.confirm([touched(5)]);
  expect(revs(own.carryForward([update(5)]))).toEqual([7]);
});

test('what another page did is not stepped over: its newer revision stands as it was seen', () => {
  const own = new OwnRevisions();
  own.carryForward([update(1)]);
  expect(revs(own.carryForward([update(9)]))).toEqual([9]);
  // And what was seen before that page's own chain began is left for the server to refuse.
  expect(revs(own.carryForward([update(2)]))).toEqual([2]);
});

test('an undo of this page counts as its own doing', () => {
  const own = new OwnRevisions();
  own.carryForward([update(1)]);
  own.confirm([touched(2)]);
  own.confirm([touched(3)]);
  expect(revs(own.carryForward([update(2)]))).toEqual([3]);
});

test('where another page came in between, what was seen before is left for the server to refuse', () => {
  const own = new OwnRevisions();
  own.carryForward([update(1)]);
  own.confirm([touched(2)]);
  // Revision 3 was another page's; this page's undo made 4.
  own.confirm([touched(4)]);
  expect(revs(own.carryForward([update(2)]))).toEqual([2]);
});

test('documents of different kinds may share an id, as a recording and its cut do', () => {
  const own = new OwnRevisions();
  own.carryForward([{ op: 'update', doc: 'recording', id: 'rec-00001', rev: 3, set: {} }]);
  expect(revs(own.carryForward([{ op: 'update', doc: 'cut', id: 'rec-00001', rev: 1, set: {} }]))).toEqual([1]);
});

test('after a refusal nothing is counted on any more', () => {
  const own = new OwnRevisions();
  own.carryForward([update(1)]);
  own.forget();
  expect(revs(own.carryForward([update(1)]))).toEqual([1]);
});
