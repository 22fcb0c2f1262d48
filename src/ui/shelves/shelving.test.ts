import type { Family } from '@/core/family';
import { doubtsOf, moveTo, nameShelf, partFrom } from './shelving';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

const entry = (id: string, shelf: string | null = null, family: Family | null = null) =>
  ({ slice: { id, rev: 1, shelf, family } }) as unknown as ShelvedSlice;
const shelfOf = (family: Family, slices: readonly ShelvedSlice[], shelf: string | null = null) =>
  ({ family, slices, shelf }) as unknown as ShelfOfSlices;
/** What changes set, by slice. */
const setBy = (changes: ReturnType<typeof moveTo>) =>
  Object.fromEntries(changes.map((c) => [c.id, c.op === 'update' ? c.set : c.op]));

let made = 0;
const newId = () => `new ${++made}`;
beforeEach(() => {
  made = 0;
});

test('a slice that is moved stands on the shelf for good with those that were there, and is what they are', () => {
  const to = shelfOf('closed hat', [entry('a'), entry('b')]);
  const moved = [entry('c'), entry('d', null, 'closed hat'), entry('e', 'mine', 'open hat')];
  expect(setBy(moveTo(moved, to, newId))).toEqual({
    a: { shelf: 'new 1' },
    b: { shelf: 'new 1' },
    c: { shelf: 'new 1' },
    d: { shelf: 'new 1' },
    e: { shelf: 'new 1', family: null },
  });
  const known = shelfOf('closed hat', [entry('a', 'theirs')], 'theirs');
  expect(setBy(moveTo([entry('c')], known, newId))).toEqual({ c: { shelf: 'theirs' } });
});

test('slices that are parted stand on one shelf, those they leave on another', () => {
  const all = [entry('a'), entry('b'), entry('c')];
  expect(setBy(partFrom(shelfOf('kick', all), all.slice(2), newId))).toEqual({
    a: { shelf: 'new 1' },
    b: { shelf: 'new 1' },
    c: { shelf: 'new 2' },
  });
});

test('a family given to a shelf is given to those of its slices that have it not', () => {
  const shelf = shelfOf('kick', [entry('a'), entry('b', null, 'tom')]);
  expect(setBy(nameShelf(shelf, 'tom'))).toEqual({ a: { family: 'tom' } });
});

test('what is doubtful of a shelf is told: that it may be no drum before that its family is a guess, that none is bare, what else it holds', () => {
  const doubts = (
    shelf: { drum: number; confidence: number },
    score = 90,
    also: readonly Family[] = [],
    kept: readonly Family[] = [],
  ) => {
    const heard = { family: 'kick', isolation: { score }, also };
    return doubtsOf({
      ...shelf,
      family: 'kick',
      slices: [{ heard, slice: { also: kept } }],
    } as unknown as ShelfOfSlices);
  };
  expect(doubts({ drum: 0.97, confidence: 0.9 })).toEqual([]);
  expect(doubts({ drum: 0.97, confidence: 0.6 })).toEqual(['Its family is a guess (60 %).']);
  expect(doubts({ drum: 0.2, confidence: 0.1 })).toEqual(['It is likely no drum (80 %).']);
  expect(doubts({ drum: 1, confidence: 0.97 }, 12, ['snare'])).toEqual([
    'Even the barest is not bare (isolation 12).',
    'It may hold another sound as well: snare.',
  ]);
  // What is kept on purpose is no doubt.
  expect(doubts({ drum: 1, confidence: 0.97 }, 90, ['snare'], ['snare'])).toEqual([]);
});
