import { seededRandom } from '../signal/random';
import { Describer } from './description';
import { runNetwork } from './network';
import { type Comparable, comparable, SoundPairs } from './sameness';
import { SAMENESS_NETWORK } from './sameness-weights';

const RATE = 44100;
const describer = new Describer(RATE);
const chances = { main: new Float64Array(9).fill(1 / 9), contains: new Float64Array(9).fill(0.2) };

function drum(seed: number, hz: number, gain = 1) {
  const random = seededRandom(seed);
  const samples = Float32Array.from({ length: 9000 }, (_, i) => {
    const t = (i - 3000) / RATE;
    if (t < 0) return 0;
    return gain * (0.4 * Math.sin(2 * Math.PI * hz * t) + 0.3 * (random() - 0.5)) * Math.exp(-25 * t);
  });
  return comparable(describer.describe(samples, 3000, 9000), chances);
}

const sounds = [drum(1, 180), drum(1, 180, 0.5), drum(2, 420), drum(3, 60)];

const pairs = new SoundPairs();
for (const sound of sounds) pairs.add(sound);

test('what is told of two sounds does not depend on which comes first', () => {
  const [there, back] = [pairs.inputs(0, 2), pairs.inputs(2, 0)];
  for (const [i, value] of there.entries()) expect(back[i]).toBeCloseTo(value, 4);
});

test('odds are what the network makes of it, worked out four by four', () => {
  expect(pairs.odds(0, 3)).toBeCloseTo(runNetwork(SAMENESS_NETWORK, pairs.inputs(0, 3))[0] as number, 3);
  expect(pairs.odds(3, 0)).toBe(pairs.odds(0, 3));
});

test('two strokes of one sample are likelier the same drum than two drums', () => {
  expect(pairs.odds(0, 1)).toBeGreaterThan(1);
  expect(pairs.odds(0, 1)).toBeGreaterThan(pairs.odds(0, 2));
  expect(pairs.odds(0, 3)).toBeLessThan(-1);
});

test('a sound may come later, and the odds of those before stay as they are', () => {
  const grown = new SoundPairs();
  for (const sound of sounds.slice(0, 3)) grown.add(sound);
  const before = grown.odds(0, 2);
  const last = grown.add(sounds[3] as Comparable);
  expect(grown.odds(0, 2)).toBe(before);
  expect(grown.odds(last, 0)).toBeCloseTo(pairs.odds(3, 0), 5);
});

test('pairs are worked out once, of thousands of sounds as of few', () => {
  const many = new SoundPairs();
  for (let i = 0; i < 2003; i++) many.add(sounds[i % sounds.length] as Comparable);
  const run = jest.spyOn(many as unknown as { meet: () => void }, 'meet');
  for (const [a, b] of [
    [3, 7],
    [5, 2002],
    [2002, 2001],
  ] as const) {
    const first = many.odds(a, b);
    expect(first).toBeCloseTo(pairs.odds(a % 4, b % 4), 4);
    expect(many.odds(b, a)).toBe(first);
  }
  expect(run).toHaveBeenCalledTimes(3);
});
