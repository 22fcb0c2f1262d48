import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { COHERENCE_FIGURES } from '../../../src/core/describe/coherence';
import { Describer } from '../../../src/core/describe/description';
import { familyChances } from '../../../src/core/describe/family';
import { groupSounds } from '../../../src/core/describe/grouping';
import type { Network } from '../../../src/core/describe/network';
import { type Comparable, comparable, pairsAmong, SoundPairs } from '../../../src/core/describe/sameness';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { learnNetwork, learntWithout, lossOfOne, networkModule, together } from '../learning';
import type { Group } from '../patterns';
import { type Loop, makeLoop } from './loops';
import { TUNING_KITS } from './percussion';
import { adjustedRand } from './score';
import { strokeLoop } from './strokes';

/**
 * `npm run train-sameness`: learns from loops of the tuning kits how likely two slices are of the same drum. Families are told by
 * networks that have not learnt from the kit's lineage, as those of a recording are (D. Wolpert, "Stacked generalization", Neural
 * Networks 5, 1992). First it leaves out one lineage of kits at a time and groups its loops, by which the settings were chosen.
 */
const OUT = 'src/core/describe/sameness-weights.ts';
const KITS = /^(tim (0|16|25|32)|bank (0|25)|air (8|24)|general (0|1|8|25|26|32)|opl|sonivox|takes|patches)$/;
const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping', 'field takes'];
/** Seeds of patterns, and how much strokes of one drum differ in each: not at all where a loop is made of samples. */
const LOOPS = [
  [1, 0.5],
  [2, 1],
  [3, 1.5],
  [4, 1],
  [5, 0],
  [6, 0],
] as const;
/** Kits of which loops are rendered as a player of fonts has them too, with these seeds. */
const RENDERED = /^(tim 0|bank 25|sonivox|general (0|25))$/;
const RENDERED_SEEDS = [7, 8];
const MOST_PAIRS = 300;
/** So many pairs are shown as if of two sample rates, of which waves are not compared. */
const NOT_COMPARED = 0.1;

interface Heard {
  readonly lineage: string;
  readonly loop: Loop;
  readonly sounds: readonly Comparable[];
}

interface Pair {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly same: boolean;
}

const folder = join(tmpdir(), 'undercroft-ear');
const random = seededRandom(5);
const describer = new Describer(RATE);

const loops = TUNING_KITS.filter(({ name }) => KITS.test(name)).flatMap((kit) => {
  const families = learntWithout(kit.lineage, 'families', folder);
  const heard = (loop: Loop): Heard => {
    const sounds = loop.slices.map(({ startFrame, endFrame }) => {
      const figures = describer.describe(loop.samples, startFrame, endFrame);
      return comparable(figures, familyChances(figures, families));
    });
    return { lineage: kit.lineage, loop, sounds };
  };
  return GROUPS.flatMap((group) => [
    ...LOOPS.map(([seed, strength]) => heard(strokeLoop(kit, group, seed, strength, folder))),
    ...RENDERED_SEEDS.filter(() => RENDERED.test(kit.name)).map((seed) => heard(makeLoop(kit, group, seed, folder))),
  ]);
});

const pairs = loops.flatMap(({ lineage, loop, sounds }) => {
  const share = MOST_PAIRS / ((sounds.length * (sounds.length - 1)) / 2);
  const held = new SoundPairs();
  for (const sound of sounds) held.add(sound);
  return sounds.flatMap((_, i) =>
    sounds.flatMap((_, k): Pair[] => {
      if (k <= i || random() >= share) return [];
      const inputs = held.inputs(i, k);
      if (random() < NOT_COMPARED) inputs.fill(0, -COHERENCE_FIGURES);
      return [{ lineage, inputs, same: loop.slices[i]?.drums === loop.slices[k]?.drums }];
    }),
  );
});
console.log(
  `${loops.length} loops, ${pairs.length} pairs of which ${pairs.filter((p) => p.same).length} are the same; ${pairs[0]?.inputs.length} figures each.`,
);

function learn(some: readonly Pair[]): Network {
  return together([1, 2].map((seed) => learnOne(some, seed)));
}

function learnOne(some: readonly Pair[], seed: number): Network {
  return learnNetwork(
    some.map((p) => p.inputs),
    { hidden: 32, outputs: 1, epochs: 12, rate: 3e-3, decay: 1e-3, batch: 64, seed },
    (index, out, derivative) => lossOfOne((some[index] as Pair).same, out, derivative),
  );
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const all: number[] = [];
for (const left of new Set(pairs.map((p) => p.lineage))) {
  const net = learnOne(
    pairs.filter((p) => p.lineage !== left),
    1,
  );
  const scores = loops
    .filter((l) => l.lineage === left)
    .map(({ loop, sounds }) => {
      const held = pairsAmong(sounds, net);
      const { groupOf } = groupSounds(sounds.length, (a, b) => held.odds(a, b));
      const truth = loop.slices.map((s) => s.drums);
      return adjustedRand(groupOf, truth);
    });
  all.push(...scores);
  console.log(`learnt without ${left}: adjusted Rand index ${mean(scores).toFixed(3)} of ${scores.length} loops`);
}
console.log(`all lineages: ${mean(all).toFixed(3)}`);
const from = `Learnt by \`npm run train-sameness\` from ${pairs.length} pairs of slices of ${loops.length} loops of the tuning kits`;
writeFileSync(OUT, networkModule('SAMENESS_NETWORK', learn(pairs), from));
