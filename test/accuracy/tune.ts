import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { TUNING } from './fonts';
import { makeItems } from './items';
import { GROUPS } from './patterns';
import { addScores, fMeasure, quantile, score } from './score';

/** Prints how the method does on the tuning set over sensitivities, and its worst items. For developers. */
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
if (process.argv[2]) {
  const sensitivity = Number(process.argv[2]);
  for (const [i, item] of items.entries()) {
    const onsets = found(i, sensitivity);
    const s = score(onsets, item.truth, 0.05);
    console.log(
      item.name,
      fMeasure(s).toFixed(3),
      `miss ${s.misses} false ${s.falseMarks}`,
      'p95',
      quantile(s.errorsMs.map(Math.abs), 0.95).toFixed(2),
    );
  }
}
