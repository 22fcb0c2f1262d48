import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { REPORT as TUNING } from '../accuracy/fonts';
import { makeItems } from '../accuracy/items';
import { GROUPS } from '../accuracy/patterns';
import { quantile } from '../accuracy/score';

const folder = '/tmp/undercroft-report';
mkdirSync(folder, { recursive: true });
const items = makeItems(TUNING, [11, 12, 13, 14], folder);
const verbose = process.argv[2];
for (const group of GROUPS) {
  const errs: number[] = [];
  let early = 0,
    late = 0;
  for (const item of items.filter((i) => i.group === group)) {
    const found = selectOnsets(detectOnsets(item.samples, item.sampleRate), {}, item.sampleRate);
    const truth = item.truth.filter((t) => t.raisesDb >= 1);
    for (const t of truth) {
      const near = found
        .map((f) => ({ e: (f.frame / item.sampleRate - t.seconds) * 1000, s: f.strength }))
        .sort((a, b) => Math.abs(a.e) - Math.abs(b.e))[0];
      const gap =
        Math.min(...truth.filter((o) => o !== t && o.seconds < t.seconds).map((o) => t.seconds - o.seconds)) * 1000;
      const next =
        Math.min(...truth.filter((o) => o !== t && o.seconds > t.seconds).map((o) => o.seconds - t.seconds)) * 1000;
      const e = near ? near.e : 999;
      if (Math.abs(e) <= 50) errs.push(e);
      if (Math.abs(e) > 2) {
        if (e < 0) early++;
        else late++;
      }
      if (verbose === group && Math.abs(e) > 5)
        console.log(
          item.name,
          t.seconds.toFixed(3),
          'raises',
          t.raisesDb.toFixed(1),
          'lead60',
          ((t.seconds - t.secondsAt60) * 1000).toFixed(1),
          'err',
          e.toFixed(1),
          'since',
          gap.toFixed(0),
          'next',
          next.toFixed(0),
        );
    }
    if (verbose === group)
      for (const f of found) {
        const near = Math.min(...item.truth.map((t) => Math.abs(t.seconds - f.frame / item.sampleRate)));
        if (near > 0.05)
          console.log(
            'FALSE',
            item.name,
            (f.frame / item.sampleRate).toFixed(3),
            'strength',
            f.strength.toFixed(3),
            'nearest',
            (near * 1000).toFixed(0),
          );
      }
  }
  const abs = errs.map(Math.abs);
  console.log(
    group.padEnd(14),
    'n',
    errs.length,
    'median',
    quantile(abs, 0.5).toFixed(2),
    'p95',
    quantile(abs, 0.95).toFixed(2),
    'in2',
    (abs.filter((x) => x <= 2).length / errs.length).toFixed(3),
    'in5',
    (abs.filter((x) => x <= 5).length / errs.length).toFixed(3),
    'early>2',
    early,
    'late>2',
    late,
  );
}
