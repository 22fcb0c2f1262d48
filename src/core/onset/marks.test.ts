import fc from 'fast-check';
import { addMark, applyMarks, type Mark, moveEnd, moveStart, removeMark, splitByAttack } from './marks';

const TOTAL = 10000;
const mark = (id: string, startFrame: number, endFrame: number, origin: Mark['origin'] = 'found'): Mark => ({
  id,
  startFrame,
  endFrame,
  origin,
});
const marks = [mark('a', 0, 1000), mark('b', 1000, 1800), mark('c', 3000, 4000)];
const after = (changes: Parameters<typeof applyMarks>[1], from: readonly Mark[] = marks) =>
  applyMarks(from, changes, (m, i) => ({ ...m, id: `new${i}` })).map((m) => [m.id, m.startFrame, m.endFrame]);

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
  expect(after(removeMark(marks, 'b'))).toEqual([
    ['a', 0, 1800],
    ['c', 3000, 4000],
  ]);
  expect(after(removeMark(marks, 'c'))).toEqual([
    ['a', 0, 1000],
    ['b', 1000, 1800],
  ]);
  expect(removeMark(marks, 'nobody')).toEqual({ create: [], update: [], remove: [] });
});

describe('splitting anew', () => {
  const candidates = [0, 1000, 2000, 3000].map((frame, i) => ({
    frame,
    strength: [0.9, 0.5, 0.1, 0.9][i] as number,
    decayEnd: frame + 1200,
    peak: 0.5,
  }));
  const at = (sensitivity: number, from: readonly Mark[] = marks) =>
    splitByAttack(from, candidates, { sensitivity, spacingMs: 5 }, 44100, TOTAL);

  test('what is already there keeps its id; what is new is created, what is gone removed', () => {
    const changes = at(1);
    expect(changes.remove).toEqual([]);
    expect(changes.create.map((c) => c.startFrame)).toEqual([2000]);
    expect(at(0.05).remove).toEqual(['b']);
  });

  test('marks set by hand survive, and found ones near them give way', () => {
    const withHand = [...marks, mark('h', 2010, 2400, 'hand')];
    const result = after(at(1, withHand), withHand);
    expect(result.map((r) => r[0])).toContain('h');
    expect(result.filter((r) => Math.abs((r[1] as number) - 2000) < 50)).toHaveLength(1);
  });

  test('splitting twice the same way changes nothing the second time', () => {
    fc.assert(
      fc.property(
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 9000 }), fc.float({ min: 0, max: 1, noNaN: true })), {
          maxLength: 20,
        }),
        (sensitivity, list) => {
          const many = list
            .map(([frame, strength]) => ({ frame, strength, decayEnd: frame + 300, peak: 0.2 }))
            .sort((a, b) => a.frame - b.frame);
          const split = { sensitivity, spacingMs: 5 };
          const once = applyMarks(marks, splitByAttack(marks, many, split, 44100, TOTAL), (m, i) => ({
            ...m,
            id: `n${i}`,
          }));
          expect(splitByAttack(once, many, split, 44100, TOTAL)).toEqual({ create: [], update: [], remove: [] });
          for (const m of once) expect(m.endFrame).toBeGreaterThan(m.startFrame);
        },
      ),
      { seed: 8 },
    );
  });
});
