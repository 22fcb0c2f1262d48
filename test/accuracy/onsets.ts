import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { AUBIO_SETTINGS, aubioOnsets } from './aubio';
import { reportCuts } from './cuts';
import { REPORT, requireDisjoint } from './fonts';
import { type Item, makeItems, type TrueOnset } from './items';
import { GROUPS } from './patterns';
import { addScores, COUNTED_FROM_DB, fMeasure, isCounted, quantile, type Score, score } from './score';

/** `npm run accuracy`: onset figures on the report set, with aubio's onset tool at its default and at its best. */
const folder = mkdtempSync(join(tmpdir(), 'undercroft-accuracy-'));
const seeds = process.argv.includes('--quick') ? [11] : [11, 12, 13, 14];
const counts = requireDisjoint();
console.log(`Samples in the fonts: ${counts.tuning} for tuning, ${counts.report} for the report, none in both.`);
const items = makeItems(REPORT, seeds, folder);
const truths = items.flatMap((item) => item.truth);
console.log(
  `${items.length} items, ${truths.length} onsets; ${truths.filter((t) => !t.struck).length} are of the music that drums play under, ${truths.filter((t) => t.struck && !isCounted(t)).length} raise the mix by less than ${COUNTED_FROM_DB} dB: these are reported apart.`,
);
const lead = truths.map((t) => (t.seconds - t.secondsAt60) * 1000);
console.log(
  `Truth at -40 dB of each note's own peak; at -60 dB it lies ${quantile(lead, 0.5).toFixed(2)} ms earlier (median), ${quantile(lead, 0.95).toFixed(2)} ms (95 %).\n`,
);

const ours = items.map((item) =>
  selectOnsets(detectOnsets(item.samples, item.sampleRate), SPLIT_INITIAL, item.sampleRate).map(
    (c) => c.frame / item.sampleRate,
  ),
);
const aubio = AUBIO_SETTINGS.map((setting) => ({
  name: setting.name,
  found: items.map((item) => aubioOnsets(item.wavPath, setting.args)),
}));
const overall = (found: readonly (readonly number[])[], windowS: number) => fMeasure(total(found, windowS, () => true));
const best = aubio.reduce((a, b) => (overall(a.found, 0.05) >= overall(b.found, 0.05) ? a : b));
const tools = [
  { name: 'Undercroft', found: ours },
  aubio[0] as (typeof aubio)[0],
  { ...best, name: `${best.name} (best of ${aubio.length})` },
];

function total(found: readonly (readonly number[])[], windowS: number, wanted: (item: Item) => boolean): Score {
  return addScores(items.flatMap((item, i) => (wanted(item) ? [score(found[i] ?? [], item.truth, windowS)] : [])));
}

/** With the notes of the music asked for as well. */
function totalOfAll(found: readonly (readonly number[])[], windowS: number, wanted: (item: Item) => boolean): Score {
  const counts = (t: TrueOnset) => t.raisesDb >= COUNTED_FROM_DB;
  return addScores(
    items.flatMap((item, i) => (wanted(item) ? [score(found[i] ?? [], item.truthOfAll, windowS, counts)] : [])),
  );
}

console.log(
  'F-measure'.padEnd(44),
  ['50 ms', '5 ms', '2 ms'].map((s) => s.padStart(7)).join(''),
  ' start error ms: median    95 %    earliest',
);
const MUSIC_TOO = "with the music's own notes";
for (const group of [...GROUPS, 'all', `under music, ${MUSIC_TOO}`, `all, ${MUSIC_TOO}`] as const) {
  console.log(group);
  const [wanted] = group.split(', ');
  const count = group.endsWith(MUSIC_TOO) ? totalOfAll : total;
  for (const tool of tools) {
    const at = (windowS: number) => count(tool.found, windowS, (item) => wanted === 'all' || item.group === wanted);
    const wide = at(0.05);
    const errors = wide.errorsMs.map(Math.abs);
    const figures = [0.05, 0.005, 0.002].map((w) => fMeasure(at(w)).toFixed(3).padStart(7)).join('');
    const placed = [quantile(errors, 0.5), quantile(errors, 0.95), Math.min(...wide.errorsMs)]
      .map((x) => x.toFixed(2).padStart(9))
      .join('');
    console.log(
      `  ${tool.name}`.padEnd(44),
      figures,
      '             ',
      placed,
      `  (${wide.hits} found, ${wide.misses} missed, ${wide.falseMarks} false)`,
    );
  }
}
const cutFloors = reportCuts(items, folder);
rmSync(folder, { recursive: true });
const everywhere = () => true;
const all = total(ours, 0.05, everywhere);
const errors = all.errorsMs.map(Math.abs);
const placedIn = (group: Item['group']) => total(ours, 0.05, (item) => item.group === group).errorsMs;
const inGroup = (group: Item['group'], found: readonly (readonly number[])[], window: number) =>
  fMeasure(total(found, window, (item) => item.group === group));
/** How far ours is above the best reference at each window; where both find the very same at 50 ms, the finer ones tell. */
const ahead = (group: Item['group']) =>
  [0.05, 0.005, 0.002].map((window) => inGroup(group, ours, window) - inGroup(group, best.found, window));
const level = GROUPS.filter((group) => ahead(group)[0] === 0);
const behind = GROUPS.filter((group) => {
  const [wide, ...finer] = ahead(group) as [number, number, number];
  return wide < 0 || (wide === 0 && finer.some((f) => f <= 0));
});
const floors: [string, boolean][] = [
  ['F-measure of 0.97 at 50 ms', fMeasure(all) >= 0.97],
  ['F-measure of 0.95 at 5 ms', fMeasure(total(ours, 0.005, everywhere)) >= 0.95],
  ['F-measure of 0.87 at 2 ms', fMeasure(total(ours, 0.002, everywhere)) >= 0.87],
  ['median start error within 0.6 ms', quantile(errors, 0.5) <= 0.6],
  ['95 % of starts within 3.5 ms', quantile(errors, 0.95) <= 3.5],
  ['95 % of plain starts within 2 ms', quantile(placedIn('plain').map(Math.abs), 0.95) <= 2],
  [
    `above the best reference in every group${level.map((group) => `, at 5 and 2 ms only in ${group} (level at 50 ms)`).join('')}${behind.map((group) => `, not in ${group}`).join('')}`,
    behind.length === 0,
  ],
  ...cutFloors,
];
for (const [what, met] of floors) console.log(`${met ? 'met   ' : 'MISSED'} ${what}`);
if (floors.some(([, met]) => !met)) process.exitCode = 1;
