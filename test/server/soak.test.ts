import { remove, scratch } from '../harness';
import { soak } from '../soak/soak';

test('mixed work of three clients, with kills, a full disk, a frozen thread and a second server: nothing acknowledged is lost', async () => {
  const folder = scratch();
  const report = await soak(folder, {
    seed: 20_261_128,
    seconds: 20,
    kills: 4,
    fullDisks: 1,
    frozenThreads: 1,
    secondServers: 1,
  });
  remove(folder);
  expect(report.faults).toEqual([]);
  const fullDisks = report.ownDisk ? 1 : 0;
  expect(report.happened).toEqual({ kills: 4, fullDisks, frozenThreads: 1, secondServers: 1 });
  // A soak in which nothing was done would find nothing.
  expect(report.counts.edits).toBeGreaterThan(50);
  expect(report.counts.imports).toBeGreaterThan(20);
  expect(report.counts.undos).toBeGreaterThan(10);
});
