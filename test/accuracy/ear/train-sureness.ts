import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drumChance } from '../../../src/core/describe/chances';
import { Describer, type SoundFigures } from '../../../src/core/describe/description';
import {
  drumTogether,
  familyChances,
  type Likeliest,
  likeliest,
  likeliestTogether,
} from '../../../src/core/describe/family';
import { groupSounds } from '../../../src/core/describe/grouping';
import { innerOnsets, isolationOf, usualOf } from '../../../src/core/describe/isolation';
import type { Network } from '../../../src/core/describe/network';
import { comparable, pairsAmong } from '../../../src/core/describe/sameness';
import type { Sketch } from '../../../src/core/describe/sketch';
import { type Sureness, surenessOf } from '../../../src/core/describe/sureness';
import { detectOnsets } from '../../../src/core/onset/detect';
import type { Region } from '../../../src/core/onset/split';
import { RATE } from '../fluid';
import { learntWithout } from '../learning';
import type { Group } from '../patterns';
import { isotonic } from './isotonic';
import { type Among, toldBy, trustIn } from './joining';
import { familyOfKey, type Kit, LAYERS, namedSounds, oneShots, TUNING_KITS } from './percussion';
import { reliability } from './score';
import { makeSong, type Song } from './songs';
import { strokeLoop } from './strokes';

/**
 * `npm run train-sureness`: learns how often a family is right by the chance it was given and by how likely a drum is heard at all, of sounds alone
 * and of the slices of loops and songs that stand together, on kits that the networks have not learnt from (`npm run train-families` and
 * `npm run train-drums` keep those).
 */
const OUT = 'src/core/describe/sureness-knots.ts';
const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping', 'field takes'];
/** Seeds of patterns that sameness was not learnt from, and how much strokes of one drum differ. */
const LOOPS = [
  [31, 0],
  [32, 1],
] as const;

/** Seeds of songs, as loops' they are others than the report's. */
const SONGS = [31, 32, 33];

interface Tried extends Among {
  readonly lineage: string;
}

const folder = join(tmpdir(), 'undercroft-ear');
const describer = new Describer(RATE);
const networks = new Map<string, Network>();

function without(lineage: string, told: 'families' | 'drums'): Network {
  const name = `${told} ${lineage}`;
  const network = networks.get(name) ?? learntWithout(lineage, told, folder);
  networks.set(name, network);
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
    const sound = describer.describe(samples, 0, samples.length);
    const told = likeliest(familyChances(sound, without(lineage, 'families')).main);
    const drum = drumChance(sound, without(lineage, 'drums'));
    return { lineage, chance: told.chance, drum, right: told.family === family, weight: 1 };
  });
}

function among(kit: Kit, { slices, samples }: Song): Tried[] {
  const network = without(kit.lineage, 'families');
  const drums = without(kit.lineage, 'drums');
  const candidates = detectOnsets(samples, RATE);
  const sounds = slices.map(({ startFrame, endFrame }) => describer.describe(samples, startFrame, endFrame));
  const chances = sounds.map((sound) => familyChances(sound, network));
  const ready = sounds.map((sound, i) => comparable(sound, chances[i] as (typeof chances)[number]));
  const pairs = pairsAmong(ready);
  const { groupOf } = groupSounds(sounds.length, (a, b) => pairs.odds(a, b));
  const told = new Map(
    [...new Set(groupOf)].map((group) => {
      const places = [...groupOf.keys()].filter((i) => groupOf[i] === group);
      const sketches = places.map((i) => (sounds[i] as SoundFigures).sketch);
      const usual = usualOf(sketches);
      const own = places.map((i, k) => {
        const inner = innerOnsets(slices[i] as Region, candidates, RATE);
        const { foreignDb } = isolationOf(sketches[k] as Sketch, inner, usual, RATE);
        return { main: chances[i]?.main ?? [], drum: drumChance(sounds[i] as SoundFigures, drums), foreignDb };
      });
      return [group, { ...likeliestTogether(own), drum: drumTogether(own) }] as const;
    }),
  );
  return slices.flatMap(({ keys }, i) => {
    const { family, chance, drum } = told.get(groupOf[i] as number) as Likeliest & { drum: number };
    if (keys.some((key) => kit.without?.includes(key))) return [];
    return [{ lineage: kit.lineage, chance, drum, right: keys.some((key) => familyOfKey(key) === family), weight: 1 }];
  });
}

/** What would be told of each lineage by what is learnt from the others. */
function tried(name: string, guesses: readonly Tried[], learn: (left: string) => (guess: Tried) => number): void {
  const right = guesses.filter((guess) => guess.right).length / guesses.length;
  const lineages = [...new Set(guesses.map((g) => g.lineage))];
  const told = lineages.flatMap((left) => {
    const sure = learn(left);
    return guesses.filter((g) => g.lineage === left).map((g) => ({ confidence: sure(g), right: g.right }));
  });
  console.log(
    `${name}: ${guesses.length} of ${lineages.join(', ')}; ${(100 * right).toFixed(1)} % right; as the others have them told`,
  );
  console.log(reliability(told).join('\n'));
}

/** Guesses that count, all together, as much as so many. */
function asMany(guesses: readonly Tried[], count: number): Tried[] {
  return guesses.map((guess) => ({ ...guess, weight: count / guesses.length }));
}

const ofAlone = alone();
tried('alone', ofAlone, (left) => {
  const knots = isotonic(ofAlone.filter((g) => g.lineage !== left));
  return ({ chance, drum }) => drum * surenessOf(chance, knots);
});
const ofLoops = TUNING_KITS.flatMap((kit) =>
  GROUPS.flatMap((group) =>
    LOOPS.flatMap(([seed, strength]) => among(kit, strokeLoop(kit, group, seed, strength, folder))),
  ),
);
const ofSongs = TUNING_KITS.flatMap((kit) => {
  const [font] = kit.fonts;
  return font ? SONGS.flatMap((seed) => among(kit, makeSong(kit, font, seed, folder))) : [];
});
// A recording may be of drums that play together or of whatever else is struck, of which sounds alone are the wider sample; or a song.
const withoutMusic = [...ofLoops, ...asMany(ofAlone, ofLoops.length)];
const songs = asMany(ofSongs, ofLoops.length);
const others = (left: string) => {
  const trust = trustIn(
    withoutMusic.filter((g) => g.lineage !== left),
    songs.filter((g) => g.lineage !== left),
  );
  return (guess: Tried) => toldBy(trust, guess);
};
tried('slices of loops', ofLoops, others);
tried('slices of songs', ofSongs, others);
const { knots: curve, joined } = trustIn(withoutMusic, songs);
const table = (knots: Sureness) => `[${knots.map(([a, b]) => `[${a.toFixed(4)}, ${b.toFixed(4)}]`).join(', ')}]`;
writeFileSync(
  OUT,
  `import type { Joined, Sureness } from './sureness';

/** Of sounds by themselves: learnt by \`npm run train-sureness\` from ${ofAlone.length} sounds of the tuning kits; not written by hand. */
// biome-ignore format: a table of figures
export const SURE_ALONE: Sureness = ${table(isotonic(ofAlone))};

/** Of slices among others of a recording: from these and ${ofLoops.length} slices of loops of the tuning kits, half and half. */
// biome-ignore format: a table of figures
export const SURE_AMONG: Sureness = ${table(curve)};

/** How that is joined with how likely a drum is heard: from all these and ${ofSongs.length} slices of songs, which count as much as the loops. */
export const AMONG_JOINED: Joined = {
  family: ${joined.family.toFixed(4)},
  drum: ${joined.drum.toFixed(4)},
  offset: ${joined.offset.toFixed(4)},
};
`,
);
