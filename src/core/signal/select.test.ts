import { seededRandom } from './random';
import { select } from './select';

it('finds what sorting finds, equal values among them', () => {
  const random = seededRandom(31);
  for (const length of [1, 2, 3, 10, 1001]) {
    const values = Float32Array.from({ length }, () => Math.round(random() * 50) / 7);
    const sorted = values.slice().sort();
    for (const rank of [0, Math.floor(length / 20), Math.floor(length / 2), length - 1])
      expect(select(values.slice(), rank)).toBe(sorted[rank]);
  }
});

it('tells which ranks there are', () => {
  expect(() => select(new Float32Array(3), 3)).toThrow('rank 3 is not in 0 to 2.');
  expect(() => select(new Float32Array(0), 0)).toThrow(RangeError);
});
