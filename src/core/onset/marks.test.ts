import {
  addMark,
  addStretch,
  applyMarks,
  keepUpTo,
  lockMarks,
  type Mark,
  mergeMarks,
  moveEnd,
  moveStart,
  NO_CHANGES,
  removeMarks,
  untilItDiesAway,
} from './marks';

const TOTAL = 10000;
const mark = (id: string, startFrame: number, endFrame: number, origin: Mark['origin'] = 'found'): Mark => ({
  id,
  startFrame,
  endFrame,
  origin,
  locked: false,
  keepFrame: null,
});
const marks = [mark('a', 0, 1000), mark('b', 1000, 1800), mark('c', 3000, 4000)];
const after = (changes: Parameters<typeof applyMarks>[1], from: readonly Mark[] = marks) =>
  applyMarks(from, changes, (m, i) => ({ ...m, locked: false, keepFrame: null, id: `new${i}` })).map((m) => [
    m.id,
    m.startFrame,
    m.endFrame,
  ]);

test('moving a start takes the end that lies on it along', () => {
  expect(after(moveStart(marks, 'b', 900))).toEqual([
    ['a', 0, 900],
    ['b', 900, 1800],
    ['c', 3000, 4000],
  ]);
});

test('moving a start leaves a neighbour that ended earlier alone, and never passes its own end', () => {
  expect(after(moveStart(marks, 'c', 99999))[2]).toEqual(['c', 3984, 4000]);
  expect(after(moveStart(marks, 'c', 2500))[1]).toEqual(['b', 1000, 1800]);
});

test('an end may run past the next start', () => {
  expect(after(moveEnd(marks, 'a', 1500, TOTAL))[0]).toEqual(['a', 0, 1500]);
  expect(after(moveEnd(marks, 'c', 99999, TOTAL))[2]).toEqual(['c', 3000, TOTAL]);
});

test('a mark inside a slice splits it; in a rest it runs to the next start or where the sound ends', () => {
  expect(after(addMark(marks, 400, TOTAL))).toEqual([
    ['a', 0, 400],
    ['new0', 400, 1000],
    ['b', 1000, 1800],
    ['c', 3000, 4000],
  ]);
  expect(after(addMark(marks, 2000, TOTAL))[2]).toEqual(['new0', 2000, 3000]);
  expect(after(addMark(marks, 2000, TOTAL, 2300))[2]).toEqual(['new0', 2000, 2300]);
  expect(addMark(marks, 1003, TOTAL).create).toEqual([]);
});

test('removing a mark gives its stretch to the slice that ended there', () => {
  expect(after(removeMarks(marks, ['b']))).toEqual([
    ['a', 0, 1800],
    ['c', 3000, 4000],
  ]);
  expect(after(removeMarks(marks, ['c']))).toEqual([
    ['a', 0, 1000],
    ['b', 1000, 1800],
  ]);
  expect(removeMarks(marks, ['nobody'])).toEqual(NO_CHANGES);
});

test('removing several that touch gives all of their stretch to the one before them', () => {
  const four = [mark('a', 0, 100), mark('b', 100, 200), mark('c', 200, 300), mark('d', 300, 400)];
  expect(after(removeMarks(four, ['c', 'b']), four)).toEqual([
    ['a', 0, 300],
    ['d', 300, 400],
  ]);
});

test('merging keeps the first and runs to the last end, whatever lies between', () => {
  expect(after(mergeMarks(marks, ['c', 'b']))).toEqual([
    ['a', 0, 1000],
    ['b', 1000, 4000],
  ]);
  expect(mergeMarks(marks, ['b'])).toEqual(NO_CHANGES);
});

test('ends are set to where sounds die away, past the next start; locked ones stay, and kept sound is kept', () => {
  const some = [
    { ...mark('a', 0, 1000), keepFrame: 1700 },
    { ...mark('b', 1000, 1800), locked: true },
    mark('c', 3000, 4000),
  ];
  const diesAway = (m: Mark) => m.startFrame + 1500;
  const overNext = true;
  expect(after(untilItDiesAway(some, ['a', 'b', 'c'], diesAway, 4200, overNext), some)).toEqual([
    ['a', 0, 1700],
    ['b', 1000, 1800],
    ['c', 3000, 4200],
  ]);
});

test('an end that is set to where the sound dies away goes past the next start only when asked to', () => {
  const rings = () => 9000;
  expect(after(untilItDiesAway(marks, ['a', 'b', 'c'], rings, TOTAL))).toEqual([
    ['a', 0, 1000],
    ['b', 1000, 3000],
    ['c', 3000, 9000],
  ]);
  expect(after(untilItDiesAway(marks, ['a'], rings, TOTAL, true))[0]).toEqual(['a', 0, 9000]);
});

test('a slice told to keep sound up to a place is lengthened to it, never shortened', () => {
  expect(keepUpTo(marks, 'b', 2500, TOTAL).update).toEqual([
    { id: 'b', set: { keepFrame: 2500, endFrame: 2500, origin: 'hand' } },
  ]);
  expect(keepUpTo(marks, 'b', 1500, TOTAL).update[0]?.set.endFrame).toBe(1800);
  expect(keepUpTo(marks, 'b', 900, TOTAL)).toEqual(NO_CHANGES);
});

test('a marked stretch becomes a slice as it is; locking changes only what is not locked yet', () => {
  expect(addStretch({ startFrame: 500.4, endFrame: 99999 }, TOTAL).create).toEqual([
    { startFrame: 500, endFrame: TOTAL, origin: 'hand' },
  ]);
  expect(addStretch({ startFrame: 5, endFrame: 9 }, TOTAL)).toEqual(NO_CHANGES);
  expect(lockMarks(marks, ['a', 'b'], true).update.map((u) => u.id)).toEqual(['a', 'b']);
  expect(lockMarks(marks, ['a'], false)).toEqual(NO_CHANGES);
});
