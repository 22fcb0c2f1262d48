import { guessFamily, guessTogether, TOLD_FAMILIES } from './family';
import { logOdds, type Sureness, surenessOf, sureTogether } from './sureness';
import { AMONG_JOINED, SURE_ALONE, SURE_AMONG } from './sureness-knots';

const KNOTS: Sureness = [
  [0.4, 0.5],
  [0.6, 0.6],
  [0.9, 0.96],
];

test('sureness is what the knots say, straight between them and flat beyond', () => {
  for (const [chance, wanted] of [
    [0.4, 0.5],
    [0.6, 0.6],
    [0.9, 0.96],
    [0.5, 0.55],
    [0.7, 0.72],
    [0.1, 0.5],
    [1, 0.96],
  ] as const)
    expect(surenessOf(chance, KNOTS)).toBeCloseTo(wanted, 9);
  expect(() => surenessOf(0.5, [])).toThrow(/one knot/);
});

test.each([
  ['alone', SURE_ALONE],
  ['among others', SURE_AMONG],
])('what was learnt of sounds %s rises, and promises no certainty', (_, knots) => {
  for (const [i, [chance, right]] of knots.entries()) {
    const [before, less] = knots[i - 1] ?? [0, 0];
    expect(chance).toBeGreaterThan(before);
    expect(right).toBeGreaterThan(less);
    expect(right).toBeLessThan(1);
  }
});

test('slices that stand together are what the mean of their chances says, each by what is its own; a sound alone is told by itself', () => {
  const chances = (kick: number, tom: number) => Float64Array.from(TOLD_FAMILIES, (_, f) => [kick, tom][f] ?? 0);
  const [a, b] = [chances(0.45, 0.55), chances(0.9, 0.1)];
  const sure = (chance: number, drum = 1) => sureTogether(surenessOf(chance, SURE_AMONG), drum, AMONG_JOINED);
  const together = guessTogether([
    { main: a, drum: 1, foreignDb: Number.NEGATIVE_INFINITY },
    { main: b, drum: 1, foreignDb: Number.NEGATIVE_INFINITY },
  ]);
  expect(together.family).toBe('kick');
  expect(together.confidence).toBeCloseTo(sure(0.675), 9);
  // As much foreign as own energy: the first counts half, 20 dB over its own a hundredth.
  const half = guessTogether([
    { main: b, drum: 1, foreignDb: 0 },
    { main: a, drum: 1, foreignDb: Number.NEGATIVE_INFINITY },
  ]);
  expect(half.family).toBe('kick');
  expect(half.confidence).toBeCloseTo(sure((0.9 / 2 + 0.45) / 1.5), 9);
  const drowned = guessTogether([
    { main: b, drum: 1, foreignDb: 20 },
    { main: a, drum: 1, foreignDb: Number.NEGATIVE_INFINITY },
  ]);
  expect(drowned.family).toBe('tom');
  expect(drowned.confidence).toBeCloseTo(sure((0.1 / 101 + 0.55) / (1 + 1 / 101)), 9);
  const alone = guessFamily({ main: a, contains: chances(0.7, 0.6), drum: 1 });
  expect(alone.family).toBe('tom');
  expect(alone.contains).toEqual(['tom', 'kick']);
  expect(alone.confidence).toBeCloseTo(surenessOf(0.55, SURE_ALONE), 9);
});

test('a family is as sure as that a drum is struck at all; of slices together each tells that by what is its own', () => {
  const main = Float64Array.from(TOLD_FAMILIES, (_, f) => [0.9, 0.1][f] ?? 0);
  const alone = guessFamily({ main, contains: main, drum: 0.25 });
  expect(alone.drum).toBe(0.25);
  expect(alone.confidence).toBeCloseTo(0.25 * surenessOf(0.9, SURE_ALONE), 9);
  const together = guessTogether([
    { main, drum: 0.9, foreignDb: Number.NEGATIVE_INFINITY },
    { main, drum: 0.3, foreignDb: 0 },
  ]);
  expect(together.drum).toBeCloseTo((0.9 + 0.3 / 2) / 1.5, 9);
  expect(together.confidence).toBeCloseTo(sureTogether(surenessOf(0.9, SURE_AMONG), 0.7, AMONG_JOINED), 9);
});

test('the odds of a family and of a drum are joined by their factors, and nothing is certain', () => {
  expect(sureTogether(0.8, 0.5, { family: 1, drum: 1, offset: 0 })).toBeCloseTo(0.8, 9);
  // Odds of 4 times odds of 3.
  expect(sureTogether(0.8, 0.75, { family: 1, drum: 1, offset: 0 })).toBeCloseTo(12 / 13, 9);
  expect(sureTogether(0.8, 0.75, { family: 0.5, drum: 0, offset: Math.log(2) })).toBeCloseTo(4 / 5, 9);
  expect(logOdds(1)).toBeCloseTo(Math.log(999), 6);
  expect(logOdds(0)).toBeCloseTo(-Math.log(999), 6);
  // What was learnt: the surer either, the surer the guess; under music it is seldom the family that it is in silence.
  expect(AMONG_JOINED.family).toBeGreaterThan(0);
  expect(AMONG_JOINED.drum).toBeGreaterThan(0);
  const told = [0.3, 0.6, 0.9, 0.99].map((drum) => sureTogether(0.9, drum, AMONG_JOINED));
  expect(told).toEqual([...told].sort((x, y) => x - y));
  expect(told[0]).toBeLessThan(0.3);
});
