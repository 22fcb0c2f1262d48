import { Latest } from './latest';

const soon = () => new Promise((resolve) => setTimeout(resolve, 5));

it('runs one at a time, and of those that come meanwhile only the last', async () => {
  const done: number[] = [];
  const latest = new Latest(() => {});
  const work = (n: number) => async () => {
    await soon();
    done.push(n);
  };
  for (const n of [1, 2, 3, 4]) latest.run(work(n));
  await soon();
  await soon();
  await soon();
  expect(done).toEqual([1, 4]);
});

it('goes on after work that failed, and tells', async () => {
  const told: string[] = [];
  const done: number[] = [];
  const latest = new Latest((error) => told.push(error.message));
  latest.run(() => Promise.reject(new Error('no')));
  latest.run(async () => {
    done.push(2);
  });
  await soon();
  expect(told).toEqual(['no']);
  expect(done).toEqual([2]);
});
