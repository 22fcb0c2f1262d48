import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { familyChances, type Likeliest, likeliest, likeliestTogether } from '../../../src/core/describe/family';
import { groupSounds } from '../../../src/core/describe/grouping';
import { innerOnsets, isolationOf, usualOf } from '../../../src/core/describe/isolation';
import type { Network } from '../../../src/core/describe/network';
import { comparable, oddsAmong } from '../../../src/core/describe/sameness';
import type { Sketch } from '../../../src/core/describe/sketch';
import { Describer, type SoundFigures } from '../../../src/core/describe/sound';
import { type Sureness, surenessOf } from '../../../src/core/describe/sureness';
import { detectOnsets } from '../../../src/core/onset/detect';
import { RATE } from '../fluid';
import { learntWithout } from '../learning';
import type { Group } from '../patterns';
import { type Chanced, isotonic } from './isotonic';
import type { Loop, TrueSlice } from './loops';
import { familyOfKey, type Kit, LAYERS, namedSounds, oneShots, TUNING_KITS } from './percussion';
import { reliability } from './score';
import { strokeLoop } from './strokes';

/**
 * `npm run train-sureness`: learns how often a family is right by the chance it was given, of sounds alone and of the slices of loops that stand
 * together, on kits that the networks of families have not learnt from (`npm run train-families` keeps those).
 */
const OUT = 'src/core/describe/sureness-knots.ts';
const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping', 'field takes'];
/** Seeds of patterns that sameness was not learnt from, and how much strokes of one drum differ. */
const LOOPS = [
  [31, 0],
  [32, 1],
] as const;

interface Tried extends Chanced {
  readonly lineage: string;
}

const folder = join(tmpdir(), 'undercroft-ear');
const describer = new Describer(RATE);
const networks = new Map<string, Network>();

function without(lineage: string): Network {
  const network = networks.get(lineage) ?? learntWithout(lineage, folder);
  networks.set(lineage, network);
  return network;
}

function alone(): Tried[] {
  const files = namedSounds();
  const shots = oneShots(
    TUNING_KITS.filter(({ name }) => name !== 'takes'),
    LAYERS,
    folder,
  );
  return [...shots, ...files].map(({ lineage, family, samples }) => {
    const chances = familyChances(describer.describe(samples, 0, samples.length), without(lineage));
    const told = likeliest(chances.main);
    return { lineage, chance: told.chance, right: told.family === family, weight: 1 };
  });
}

function among(kit: Kit, { slices, samples }: Loop): Tried[] {
  const network = without(kit.lineage);
  const candidates = detectOnsets(samples, RATE);
  const sounds = slices.map(({ startFrame, endFrame }) => describer.describe(samples, startFrame, endFrame));
  const chances = sounds.map((sound) => familyChances(sound, network));
  const ready = sounds.map((sound, i) => comparable(sound, chances[i] as (typeof chances)[number]));
  const { groupOf } = groupSounds(sounds.length, oddsAmong(ready));
  const told = new Map(
    [...new Set(groupOf)].map((group) => {
      const places = [...groupOf.keys()].filter((i) => groupOf[i] === group);
      const sketches = places.map((i) => (sounds[i] as SoundFigures).sketch);
      const usual = usualOf(sketches);
      const own = places.map((i, k) => {
        const inner = innerOnsets(slices[i] as TrueSlice, candidates, RATE);
        const { foreignDb } = isolationOf(sketches[k] as Sketch, inner, usual, RATE);
        return { main: chances[i]?.main ?? [], foreignDb };
      });
      return [group, likeliestTogether(own)] as const;
    }),
  );
  return slices.flatMap(({ keys }, i) => {
    const { family, chance } = told.get(groupOf[i] as number) as Likeliest;
    if (keys.some((key) => kit.without?.includes(key))) return [];
    return [{ lineage: kit.lineage, chance, right: keys.some((key) => familyOfKey(key) === family), weight: 1 }];
  });
}

/** What is told of them, and what would be told of each lineage by what is learnt from the others. */
function tried(name: string, guesses: readonly Tried[], learnt = guesses): void {
  const right = guesses.filter((guess) => guess.right).length / guesses.length;
  const lineages = [...new Set(guesses.map((g) => g.lineage))];
  const told = lineages.flatMap((left) => {
    const knots = isotonic(learnt.filter((g) => g.lineage !== left));
    return guesses
      .filter((g) => g.lineage === left)
      .map(({ chance, right }) => ({ confidence: surenessOf(chance, knots), right }));
  });
  console.log(`${name}: ${guesses.length} of ${lineages.join(', ')}; ${(100 * right).toFixed(1)} % right; as they are`);
  console.log(reliability(guesses.map(({ chance, right }) => ({ confidence: chance, right }))).join('\n'));
  console.log('as the other lineages would have them told');
  console.log(reliability(told).join('\n'));
}

const ofAlone = alone();
tried('alone', ofAlone);
const ofLoops = TUNING_KITS.flatMap((kit) =>
  GROUPS.flatMap((group) =>
    LOOPS.flatMap(([seed, strength]) => among(kit, strokeLoop(kit, group, seed, strength, folder))),
  ),
);
// A recording may be of drums that play together or of whatever else is struck, of which sounds alone are the wider sample: half and half.
const ofAmong = [...ofLoops, ...ofAlone.map((guess) => ({ ...guess, weight: ofLoops.length / ofAlone.length }))];
tried('slices of loops', ofLoops, ofAmong);
const table = (knots: Sureness) => `[${knots.map(([a, b]) => `[${a.toFixed(4)}, ${b.toFixed(4)}]`).join(', ')}]`;
writeFileSync(
  OUT,
  `import type { Sureness } from './sureness';

/** Of sounds by themselves: learnt by \`npm run train-sureness\` from ${ofAlone.length} sounds of the tuning kits; not written by hand. */
// biome-ignore format: a table of figures
export const SURE_ALONE: Sureness = ${table(isotonic(ofAlone))};

/** Of slices among others of a recording: from these and ${ofLoops.length} slices of loops of the tuning kits, half and half. */
// biome-ignore format: a table of figures
export const SURE_AMONG: Sureness = ${table(isotonic(ofAmong))};
`,
);
