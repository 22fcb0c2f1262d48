import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { familyChances } from '../../../src/core/describe/family';
import { FAMILY_NETWORK } from '../../../src/core/describe/family-weights';
import { groupSounds } from '../../../src/core/describe/grouping';
import { logistic, type Network } from '../../../src/core/describe/network';
import { comparable, PAIR_INPUTS, pairInputs, samenessOf } from '../../../src/core/describe/sameness';
import { BANDS } from '../../../src/core/describe/sketch';
import { Describer, type SoundFigures } from '../../../src/core/describe/sound';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { learnNetwork, networkModule } from '../learning';
import type { Group } from '../patterns';
import { makeLoop } from './loops';
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
const MOST_PAIRS = 500;

const folder = join(tmpdir(), 'undercroft-ear');
const random = seededRandom(5);
const describer = new Describer(RATE);

const readied = (sound: SoundFigures) => comparable(sound, familyChances(sound, FAMILY_NETWORK).main);

const loops = TUNING_KITS.filter(({ name }) => KITS.includes(name)).flatMap((kit) =>
  GROUPS.flatMap((group) =>
    SEEDS.map((seed) => {
      const loop = makeLoop(kit, group, seed, folder);
      const figures = loop.slices.map(({ startFrame, endFrame }) =>
        describer.describe(loop.samples, startFrame, endFrame),
      );
      return { lineage: kit.name.split(' ')[0] as string, loop, figures, sounds: figures.map(readied) };
    }),
  ),
);

interface Pair {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly same: boolean;
}

/** Every stroke of a real drum differs a little: levels of neighbouring bands, how fast they fall, and what goes by them. */
const VARIED_DB = 4;

function varied(sound: SoundFigures, strength: number): SoundFigures {
  const knots = Array.from({ length: 6 }, () => (random() + random() - 1) * strength * VARIED_DB);
  // Struck harder a drum is brighter.
  const tilt = (random() + random() - 1) * strength * VARIED_DB;
  const fall = (random() + random() - 1) * strength;
  const around = (by: number) => 2 ** ((random() + random() - 1) * by * strength);
  const powers = sound.sketch.powers.map((p, i) => {
    const band = ((i % BANDS) / (BANDS - 1)) * (knots.length - 1.001);
    const k = Math.floor(band);
    const db = (knots[k] as number) * (k + 1 - band) + (knots[k + 1] as number) * (band - k);
    return p * 10 ** ((db + tilt * ((i % BANDS) / BANDS - 0.5) * 2 + fall * Math.floor(i / BANDS)) / 10);
  });
  const { envelope } = sound;
  return {
    ...sound,
    sketch: { ...sound.sketch, powers },
    envelope: {
      ...envelope,
      decay20Ms: envelope.decay20Ms === null ? null : envelope.decay20Ms * around(0.6),
      crossings: envelope.crossings * around(0.4),
    },
    brightnessHz: sound.brightnessHz * around(0.4),
  };
}

const pairs = loops.flatMap(({ lineage, loop, figures }) =>
  [0, 0.7, 1.4].flatMap((strength): Pair[] => {
    const sounds = figures.map((f) => readied(strength === 0 ? f : varied(f, strength)));
    const all: Pair[] = [];
    for (let a = 0; a < sounds.length; a++)
      for (let b = a + 1; b < sounds.length; b++) {
        const same = loop.slices[a]?.drums === loop.slices[b]?.drums;
        all.push({ lineage, inputs: pairInputs(sounds[a] as never, sounds[b] as never), same });
      }
    return all.filter(() => random() < MOST_PAIRS / all.length);
  }),
);
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
