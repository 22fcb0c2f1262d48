import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { familyChances } from '../../../src/core/describe/family';
import { FAMILY_NETWORK } from '../../../src/core/describe/family-weights';
import { logistic, type Network } from '../../../src/core/describe/network';
import { comparable, groupSounds, PAIR_INPUTS, pairInputs, samenessOf } from '../../../src/core/describe/sameness';
import { Describer } from '../../../src/core/describe/sound';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { learnNetwork, networkModule } from '../learning';
import type { Group } from '../patterns';
import { type Loop, makeLoop } from './loops';
import { TUNING_KITS } from './percussion';
import { adjustedRand } from './score';

/**
 * `npm run train-sameness`: learns from loops of the tuning kits how likely two slices are of the same drum. First it leaves out one
 * lineage of kits at a time and groups its loops, by which the settings were chosen.
 */
const OUT = 'src/core/describe/sameness-weights.ts';
const KITS = ['tim 0', 'tim 25', 'tim 32', 'bank 0', 'bank 24', 'bank 25', 'opl', 'sonivox'];
const GROUPS: readonly Group[] = ['plain', 'busy', 'overlapping'];
const SEEDS = [1, 2];
const MOST_PAIRS = 900;

const folder = join(tmpdir(), 'undercroft-ear');
const random = seededRandom(5);
const describer = new Describer(RATE);

function soundsOf(loop: Loop) {
  return loop.slices.map(({ startFrame, endFrame }) => {
    const sound = describer.describe(loop.samples, startFrame, endFrame);
    return comparable(sound, familyChances(sound, FAMILY_NETWORK).main);
  });
}

const loops = TUNING_KITS.filter(({ name }) => KITS.includes(name)).flatMap((kit) =>
  GROUPS.flatMap((group) =>
    SEEDS.map((seed) => {
      const loop = makeLoop(kit, group, seed, folder);
      return { lineage: kit.name.split(' ')[0] as string, loop, sounds: soundsOf(loop) };
    }),
  ),
);

interface Pair {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly same: boolean;
}

const pairs = loops.flatMap(({ lineage, loop, sounds }): Pair[] => {
  const all: Pair[] = [];
  for (let a = 0; a < sounds.length; a++)
    for (let b = a + 1; b < sounds.length; b++) {
      const same = loop.slices[a]?.drums === loop.slices[b]?.drums;
      all.push({ lineage, inputs: pairInputs(sounds[a] as never, sounds[b] as never), same });
    }
  return all.filter(() => random() < MOST_PAIRS / all.length);
});
console.log(
  `${loops.length} loops, ${pairs.length} pairs of which ${pairs.filter((p) => p.same).length} are the same; ${PAIR_INPUTS} figures each.`,
);

function learn(some: readonly Pair[]): Network {
  return learnNetwork(
    some.map((p) => p.inputs),
    { hidden: 24, outputs: 1, epochs: 20, rate: 3e-3, decay: 1e-3, batch: 64, seed: 1 },
    (index, out, derivative) => {
      const { same } = some[index] as Pair;
      const chance = logistic(out[0] as number);
      derivative[0] = chance - (same ? 0.98 : 0.02);
      return -Math.log((same ? chance : 1 - chance) + 1e-12);
    },
  );
}

for (const left of new Set(pairs.map((p) => p.lineage))) {
  const net = learn(pairs.filter((p) => p.lineage !== left));
  const scores = loops
    .filter((l) => l.lineage === left)
    .map(({ loop, sounds }) => {
      const { groupOf } = groupSounds(sounds.length, (a, b) => samenessOf(sounds[a] as never, sounds[b] as never, net));
      return adjustedRand(
        groupOf,
        loop.slices.map((s) => s.drums),
      );
    });
  console.log(
    `learnt without ${left}: adjusted Rand index ${(scores.reduce((a, b) => a + b, 0) / scores.length).toFixed(3)} (${scores.map((s) => s.toFixed(2)).join(' ')})`,
  );
}
writeFileSync(
  OUT,
  networkModule(
    'SAMENESS_NETWORK',
    learn(pairs),
    `Learnt by \`npm run train-sameness\` from ${pairs.length} pairs of slices of ${loops.length} loops of the tuning kits`,
  ),
);
