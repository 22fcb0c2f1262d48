import type { Candidate } from './detect';
import { nearestAttack, nearestZero } from './snap';

const at = (frame: number): Candidate => ({
  frame,
  strength: 0.5,
  decayEnd: frame + 100,
  peak: 0.5,
  low: 0,
  mid: 0,
  high: 0,
  click: false,
});

test('the nearest attack within reach, on either side; none beyond', () => {
  const candidates = [at(100), at(200), at(1000)];
  expect(nearestAttack(candidates, 140, 50)).toBe(100);
  expect(nearestAttack(candidates, 160, 50)).toBe(200);
  expect(nearestAttack(candidates, 200, 0)).toBe(200);
  expect(nearestAttack(candidates, 500, 50)).toBeNull();
  expect(nearestAttack([], 500, 50)).toBeNull();
});

test('the zero crossings of a sine are where they must be', () => {
  // Half a period is 50 frames, with a phase that puts crossings between frames.
  const sine = (frame: number) => Math.sin((Math.PI * (frame - 10.4)) / 50);
  expect(nearestZero(sine, 30, 100)).toBe(10);
  expect(nearestZero(sine, 50, 100)).toBe(60);
  expect(nearestZero(sine, 35, 10)).toBeNull();
});

test('silence is a crossing where it is; what is not at hand is none', () => {
  expect(nearestZero(() => 0, 77, 5)).toBe(77);
  expect(nearestZero(() => Number.NaN, 77, 5)).toBeNull();
});
