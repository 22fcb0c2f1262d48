import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { requireDisjoint } from '../fonts';
import { reportFamilies } from './families';
import { reportGroups } from './groups';

/** `npm run ear`: how well families, groups, isolation, roots and tempi are told, on the report fonts. */
const folder = join(tmpdir(), 'undercroft-ear');
requireDisjoint();
const tuning = process.argv.includes('--tuning');
const groups = reportGroups(folder, tuning);
for (const [kind, rand] of Object.entries(groups.rand)) console.log(`Adjusted Rand index, ${kind}: ${rand.toFixed(3)}`);
console.log(`The same by the spectrum's cosine alone: ${groups.plainRand.toFixed(3)}`);
const share = (n: number) => `${((100 * n) / groups.bare.of).toFixed(1)} %`;
console.log(
  `Barest first, of ${groups.bare.of} drums that have a bare slice and others: ${share(groups.bare.ours)}; by level ${share(groups.bare.byLevel)}, by the gap before ${share(groups.bare.byGap)}`,
);
if (tuning) process.exit();
const families = reportFamilies(folder);
console.log(families.lines.join('\n'));
console.log(`macro-F1 ${families.f1.toFixed(3)}, accuracy ${families.accuracy.toFixed(3)}`);
