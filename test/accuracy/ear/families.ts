import { chancesOf } from '../../../src/core/describe/chances';
import { Describer } from '../../../src/core/describe/description';
import { guessFamily, TOLD_FAMILIES } from '../../../src/core/describe/family';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { type OneShot, oneShots, REPORT_KITS } from './percussion';
import { reliability } from './score';

/** What families the sounds of the report kits are told to be, against the GM percussion key map. */
export function reportFamilies(folder: string): { f1: number; accuracy: number; lines: string[] } {
  const describer = new Describer(RATE);
  const shots = oneShots(REPORT_KITS, [60, 110], folder);
  const told = shots.map((shot) => guessFamily(chancesOf(describer.describe(shot.samples, 0, shot.samples.length))));
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
  const guesses = told.map(({ confidence, family }, i) => ({ confidence, right: family === shots[i]?.family }));
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
      ...reliability(guesses),
      ...(process.argv.includes('--wrong') ? wrong : []),
    ],
  };
}

/** What two sounds of the report kits, struck as one, are told to contain, and what one alone is. */
export function reportContents(folder: string): string {
  const describer = new Describer(RATE);
  const shots = oneShots(REPORT_KITS, [110], folder);
  const random = seededRandom(31);
  const pick = () => shots[Math.floor(random() * shots.length)] as OneShot;
  const told = (samples: Float32Array) =>
    guessFamily(chancesOf(describer.describe(samples, 0, samples.length))).contains;
  let [named, right, there, both, of] = [0, 0, 0, 0, 0];
  while (of < MIXTURES) {
    const [a, b] = [pick(), pick()];
    if (a.family === b.family) continue;
    of++;
    const db = -MOST_UNDER_DB * random();
    const gain = Math.sqrt(early(a.samples) / early(b.samples)) * 10 ** (db / 20);
    const mix = Float32Array.from({ length: Math.max(a.samples.length, b.samples.length) }, (_, i) => {
      return (a.samples[i] ?? 0) + gain * (b.samples[i] ?? 0);
    });
    const contains = told(mix);
    const hits = [a, b].filter(({ family }) => contains.includes(family)).length;
    named += contains.length;
    right += hits;
    there += 2;
    if (hits === 2) both++;
  }
  const alone = shots.filter(({ samples }) => told(samples).length > 1).length;
  const share = (n: number, all: number) => `${((100 * n) / all).toFixed(0)} %`;
  return `Of ${of} pairs struck as one, the second up to ${MOST_UNDER_DB} dB under the first: of the families named ${share(right, named)} are there, of those there ${share(right, there)} are named, both in ${share(both, of)}. Of ${shots.length} sounds alone ${share(alone, shots.length)} are said to hold another.`;
}

const MIXTURES = 400;
const MOST_UNDER_DB = 9;
const EARLY_S = 0.15;

function early(samples: Float32Array): number {
  return samples.subarray(0, EARLY_S * RATE).reduce((sum, x) => sum + x * x, 1e-12);
}
