import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { TUNING } from './fonts';
import { makeItems } from './items';
import { GROUPS } from './patterns';
import { addScores, fMeasure, isCounted, quantile, score } from './score';

/** Prints how the method does on the tuning set over sensitivities and, for a group, where it fails. For developers. */
const folder = join(tmpdir(), 'undercroft-tuning');
mkdirSync(folder, { recursive: true });
const items = makeItems(TUNING, [1, 2, 3], folder);
const candidates = items.map((item) => detectOnsets(item.samples, item.sampleRate));
const found = (i: number, sensitivity: number) => {
  const item = items[i] as (typeof items)[number];
  return selectOnsets(candidates[i] ?? [], { sensitivity, spacingMs: 20 }, item.sampleRate).map(
    (c) => c.frame / item.sampleRate,
  );
};
for (const sensitivity of [0.3, 0.4, 0.45, 0.5, 0.55, 0.6, 0.7, 0.8]) {
  const all = items.map((item, i) => score(found(i, sensitivity), item.truth, 0.05));
  const groups = GROUPS.map((g) => fMeasure(addScores(all.filter((_, i) => items[i]?.group === g))).toFixed(3));
  const five = addScores(items.map((item, i) => score(found(i, sensitivity), item.truth, 0.005)));
  const two = addScores(items.map((item, i) => score(found(i, sensitivity), item.truth, 0.002)));
  const sum = addScores(all);
  const errors = sum.errorsMs.map(Math.abs);
  console.log(
    sensitivity,
    fMeasure(sum).toFixed(4),
    `miss ${sum.misses} false ${sum.falseMarks}`,
    'at 5',
    fMeasure(five).toFixed(3),
    'at 2',
    fMeasure(two).toFixed(3),
    'groups',
    groups.join(' '),
    'median',
    quantile(errors, 0.5).toFixed(2),
    'p95',
    quantile(errors, 0.95).toFixed(2),
    'bias',
    quantile(sum.errorsMs, 0.5).toFixed(2),
  );
}

/** What went wrong with one item: truth that was placed badly or missed, and marks where there is nothing. */
function worst(item: (typeof items)[number], onsets: readonly number[]): string[] {
  const counted = item.truth.filter(isCounted);
  const nearest = (list: readonly number[], at: number) =>
    list.reduce((best, x) => (Math.abs(x - at) < Math.abs(best - at) ? x : best), Number.POSITIVE_INFINITY);
  const ms = (seconds: number) => (seconds * 1000).toFixed(1);
  const misplaced = counted.flatMap((t, i) => {
    const off = nearest(onsets, t.seconds) - t.seconds;
    const since = t.seconds - (counted[i - 1]?.seconds ?? Number.NEGATIVE_INFINITY);
    if (Math.abs(off) <= 0.005) return [];
    return [
      `${t.seconds.toFixed(3)} s: off by ${ms(off)} ms, raises ${t.raisesDb.toFixed(1)} dB, ${ms(since)} ms after the last`,
    ];
  });
  const truth = item.truth.map((t) => t.seconds);
  const nothing = onsets.filter((at) => Math.abs(nearest(truth, at) - at) > 0.05);
  return [...misplaced, ...nothing.map((at) => `${at.toFixed(3)} s: nothing is there`)];
}

// `npm run tuning -- busy` lists what goes wrong in a group.
const group = GROUPS.find((g) => g === process.argv[2]);
for (const [i, item] of items.entries()) {
  if (item.group !== group) continue;
  const onsets = found(i, SPLIT_INITIAL.sensitivity);
  const s = score(onsets, item.truth, 0.05);
  console.log(`${item.name}: F ${fMeasure(s).toFixed(3)}, ${s.misses} missed, ${s.falseMarks} false`);
  for (const line of worst(item, onsets)) console.log(`  ${line}`);
}
