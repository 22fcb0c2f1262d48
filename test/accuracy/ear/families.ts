import { familyChances, guessFamily, TOLD_FAMILIES } from '../../../src/core/describe/family';
import { FAMILY_NETWORK } from '../../../src/core/describe/family-weights';
import { Describer } from '../../../src/core/describe/sound';
import { RATE } from '../fluid';
import { type OneShot, oneShots, REPORT_KITS } from './percussion';

/** What families the sounds of the report kits are told to be, against the GM percussion key map. */
export function reportFamilies(folder: string): { f1: number; accuracy: number; lines: string[] } {
  const describer = new Describer(RATE);
  const shots = oneShots(REPORT_KITS, [60, 110], folder);
  const told = shots.map((shot) =>
    guessFamily(familyChances(describer.describe(shot.samples, 0, shot.samples.length), FAMILY_NETWORK)),
  );
  const families = TOLD_FAMILIES;
  const count = (is: (shot: OneShot) => boolean, as: string) =>
    shots.filter((shot, i) => is(shot) && told[i]?.family === as).length;
  const scores = families.map((family) => {
    const right = count((s) => s.family === family, family);
    const of = shots.filter((s) => s.family === family).length;
    return (2 * right) / (of + count(() => true, family));
  });
  const right = shots.filter((shot, i) => told[i]?.family === shot.family).length;
  const table = families.map((family) => {
    const row = TOLD_FAMILIES.map((as) => String(count((s) => s.family === family, as)).padStart(4));
    return `  ${family.padEnd(11)}${row.join('')}`;
  });
  const reliability = [0, 0.5, 0.7, 0.8, 0.9, 0.95].map((low, i, all) => {
    const high = all[i + 1] ?? 1.01;
    const some = told.flatMap(({ confidence, family }, k) =>
      confidence >= low && confidence < high ? [family === shots[k]?.family] : [],
    );
    const share = some.length === 0 ? '-' : `${Math.round((100 * some.filter(Boolean).length) / some.length)} %`;
    return `  of those given ${Math.round(low * 100)} to ${Math.min(100, Math.round(high * 100))} %: ${share} right (${some.length})`;
  });
  const wrong = shots.flatMap((shot, i) =>
    told[i]?.family === shot.family
      ? []
      : [
          `${shot.kit} key ${shot.key} v${shot.velocity} ${shot.family} as ${told[i]?.family} ${told[i]?.confidence.toFixed(2)}`,
        ],
  );
  const f1 = scores.reduce((a, b) => a + b, 0) / scores.length;
  return {
    f1,
    accuracy: right / shots.length,
    lines: [
      `Families of ${shots.length} sounds; rows are true, columns told (${TOLD_FAMILIES.join(', ')}):`,
      ...table,
      ...families.map((family, f) => `  F1 of ${family}: ${(scores[f] as number).toFixed(3)}`),
      ...reliability,
      ...(process.argv.includes('--wrong') ? wrong : []),
    ],
  };
}
