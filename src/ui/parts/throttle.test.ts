import { Throttle } from './throttle';

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

it('runs at once, then once for all that was asked for meanwhile, and never loses the last', () => {
  const throttle = new Throttle(700);
  const done: string[] = [];
  for (const what of ['a1', 'a2', 'a3']) throttle.run('a', () => done.push(what));
  throttle.run('b', () => done.push('b1'));
  expect(done).toEqual(['a1', 'b1']);
  jest.advanceTimersByTime(699);
  expect(done).toEqual(['a1', 'b1']);
  jest.advanceTimersByTime(1);
  expect(done).toEqual(['a1', 'b1', 'a3']);
  throttle.run('a', () => done.push('a4'));
  jest.advanceTimersByTime(700);
  expect(done).toEqual(['a1', 'b1', 'a3', 'a4']);
  // Rested, it runs at once again.
  jest.advanceTimersByTime(700);
  throttle.run('a', () => done.push('a5'));
  expect(done.at(-1)).toBe('a5');
});

it('runs what is last at once, and not what it takes the place of', () => {
  const throttle = new Throttle(100);
  const done: number[] = [];
  for (const n of [0, 1]) throttle.run('a', () => done.push(n));
  throttle.run('a', () => done.push(2), { last: true });
  jest.advanceTimersByTime(1000);
  expect(done).toEqual([0, 2]);
});
