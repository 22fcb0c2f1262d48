import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { likelyDrum } from '../../../src/core/describe/family';
import { requireDisjoint } from '../fonts';
import { reportContents, reportFamilies } from './families';
import { GROUPS, loopKits, reportGroups, type SliceGuess } from './groups';
import { reportMixtures } from './mixed';
import { nearTwins } from './near';
import { REPORT_KITS, TUNING_KITS } from './percussion';
import { reportRoots } from './roots';
import { reliability } from './score';
import { reportOthers, reportSongs } from './songs';
import { reportTempi } from './tempi';

/** `npm run ear`: how well families, groups, isolation, roots and tempi are told, on the report fonts. */
const folder = join(tmpdir(), 'undercroft-ear');
const compared = requireDisjoint(
  TUNING_KITS.flatMap((kit) => kit.fonts),
  REPORT_KITS.flatMap((kit) => kit.fonts),
);
console.log(`Samples in the fonts: ${compared.tuning} learnt from, ${compared.report} for the report, none in both.`);
if (process.argv.includes('--twins')) {
  const twins = nearTwins(folder);
  console.log(`Sounds of one recording, cut otherwise, in both sets: ${twins.length}`, ...twins);
}
const tuning = process.argv.includes('--tuning');
const groups = reportGroups(folder, tuning);
for (const [kind, rand] of Object.entries(groups.rand)) console.log(`Adjusted Rand index, ${kind}: ${rand.toFixed(3)}`);
console.log(`The same of loops in which every stroke of a drum differs: ${groups.unlikeRand.toFixed(3)}`);
console.log(`The same by the spectrum's cosine alone: ${groups.plainRand.toFixed(3)}`);
const share = (n: number) => `${((100 * n) / groups.bare.of).toFixed(1)} %`;
console.log(
  `Barest first, of ${groups.bare.of} drums that have a bare slice and others: ${share(groups.bare.ours)}; by level ${share(groups.bare.byLevel)}, by the gap before ${share(groups.bare.byGap)}`,
);
const slices = groups.families;
const ofSlices = (is: (guess: SliceGuess) => boolean) =>
  `${((100 * slices.filter(is).length) / slices.length).toFixed(1)} %`;
console.log(
  `Families of ${slices.length} slices of these loops, as they are told of a slice among the others: ${ofSlices((g) => g.right)} right; ${ofSlices((g) => g.strange)} are said to hold another that was not struck`,
);
console.log(reliability(slices).join('\n'));
console.log(`${ofSlices((g) => g.shelf.right)} of them stand on the right shelf`);
console.log(reliability(slices.map((g) => g.shelf)).join('\n'));
console.log('Several drums struck as one, of slices taken for one that was struck:');
console.log(reportMixtures(loopKits(tuning), GROUPS, folder).join('\n'));
const { tails } = groups;
console.log(
  `Tails of -30 dB or more in ${tails.of} slices: ${((100 * tails.right) / tails.of).toFixed(1)} % told of the drum that is loudest before; of the slice before ${((100 * tails.byPlace) / tails.of).toFixed(1)} %`,
);
const font = `/usr/share/sounds/sf2/${tuning ? 'TimGM6mb' : 'FluidR3_GM'}.sf2`;
const fontName = tuning ? 'tim' : 'fluid';
const roots = reportRoots([font], fontName, folder);
for (const [who, e] of [
  ['ours', roots.ours],
  ['aubiopitch default', roots.default],
  [`aubiopitch ${roots.best.method}, the best of its methods here`, roots.best],
] as const)
  console.log(`Roots of ${e.of} tuned strokes, ${who}: ${e.near} within 10 cents, ${e.octaves} an octave off`);
console.log('Of the roots told:');
console.log(reliability(roots.told).join('\n'));
const kits = (tuning ? TUNING_KITS : REPORT_KITS).filter(({ name }) =>
  /^(tim|fluid) (0|25)$|^(sonivox|pearl|zeppelin)$/.test(name),
);
const tempi = reportTempi(kits, tuning ? [1, 2, 3, 4] : [11, 12, 13, 14], folder);
console.log(
  `Tempi of ${tempi.of} loops: ${tempi.near} within 2 % or its half or double, ${tempi.exact} in the right octave, of which ${(100 * tempi.promised).toFixed(0)} % was promised`,
);
const { bars } = tempi;
console.log(
  `First bars of ${bars.of}, begun on every beat: ${bars.right} right, ${((100 * bars.promised) / bars.of).toFixed(0)} % promised`,
);
const songs = reportSongs(kits, font, tuning ? [1, 2] : [11, 12], folder);
const percent = (part: number) => `${(100 * part).toFixed(1)} %`;
const none = (some: readonly { readonly score: number }[]) =>
  percent(some.filter(({ score }) => !likelyDrum({ drum: score })).length / some.length);
const drums = songs.slices.filter(({ drum }) => drum);
const notes = songs.slices.filter(({ drum }) => !drum);
console.log(
  `Of ${drums.length} slices of songs in which a drum is struck ${none(drums)} are said to have likelier none, of ${notes.length} of notes alone ${none(notes)}; ${percent(songs.apart)} of pairs of both are told apart, by how sure the family is alone ${percent(songs.apartByFamily)}`,
);
console.log(`Families of all of these slices:\n${reliability(songs.slices.map(({ family }) => family)).join('\n')}`);
const alone = reportOthers(tuning ? TUNING_KITS : REPORT_KITS, [60, 110], font, fontName, folder);
console.log(
  `Of ${alone.drums.length} drums alone ${none(alone.drums)} are said to be likelier none, of ${alone.others.length} notes and effects ${none(alone.others)}; ${percent(alone.apart)} of pairs told apart`,
);
if (tuning) process.exit();
const families = reportFamilies(folder);
console.log(families.lines.join('\n'));
console.log(`macro-F1 ${families.f1.toFixed(3)}, accuracy ${families.accuracy.toFixed(3)}`);
console.log(reportContents(folder));
