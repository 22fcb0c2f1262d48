import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MIXTURE_WAVES, type MixtureCase } from '../../../src/core/describe/mixtures';
import type { Network } from '../../../src/core/describe/network';
import { seededRandom } from '../../../src/core/signal/random';
import { learnNetwork, lossOfOne, networkModule, together } from '../learning';
import { type Group, mixedPattern } from '../patterns';
import { holds, type MixedLoop, MixtureScore, mixedLoop, struckIn } from './mixed';
import { TUNING_KITS } from './percussion';
import { strokeLoop, strokesOf } from './strokes';

/**
 * `npm run train-mixtures`: learns from loops of the tuning kits which other drums of a recording sound in a slice. First it
 * leaves out one lineage of kits at a time and tries on its loops, by which the settings were chosen.
 */
const OUT = 'src/core/describe/mixture-weights.ts';
const KITS = /^(tim (0|16|25|32)|bank (0|25)|air (8|24)|general (0|1|8|25|26|32)|opl|sonivox|takes|patches)$/;
/** Patterns of which a loop is made, and how much strokes of one drum differ in it. */
const PATTERNS: readonly (readonly [group: Group, strength: number])[] = [
  ['plain', 0.5],
  ['busy', 1],
  ['overlapping', 0],
  ['field takes', 1],
];
/** The same of loops of random strokes. */
const MIXED = [0, 0.5, 1, 1, 1.5, 0.7, 0, 0.3, 0.6, 1.2, 0, 0.8, 1, 2, 0.4, 1];

/** So many cases are shown as if of two sample rates, of which waves are not compared. */
const NOT_COMPARED = 0.1;

interface Case {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly is: boolean;
}

const folder = join(tmpdir(), 'undercroft-ear');
const random = seededRandom(17);
let made = 0;
const loops = TUNING_KITS.filter(({ name }) => KITS.test(name)).flatMap((kit) => {
  const own = [
    ...PATTERNS.map(([group, strength], i) => strokeLoop(kit, group, 1 + i, strength, folder)),
    ...MIXED.map((strength) => strokesOf(kit, mixedPattern(++made), strength, folder)),
  ].map((loop) => mixedLoop(kit, loop));
  console.log(`${kit.name}: ${own.length} loops`);
  return own.map((mixed) => ({ mixed, cases: mixed.truth.map((_, i) => mixed.mixtures.cases(i)) }));
});
const cases = loops.flatMap(({ mixed, cases: all }) =>
  all.flatMap((some, i): Case[] =>
    struckIn(mixed, i) === null
      ? []
      : some.map((one) => {
          const inputs = one.inputs.slice();
          if (random() < NOT_COMPARED) inputs.fill(0, -MIXTURE_WAVES);
          return { lineage: mixed.kit.lineage, inputs, is: holds(mixed, i, one) };
        }),
  ),
);
console.log(`${loops.length} loops, ${cases.length} cases, of which ${cases.filter(({ is }) => is).length} are there.`);

function learn(some: readonly Case[], seeds: readonly number[]): Network {
  return together(
    seeds.map((seed) =>
      learnNetwork(
        some.map(({ inputs }) => inputs),
        { hidden: 32, outputs: 1, epochs: 12, rate: 3e-3, decay: 1e-3, batch: 64, seed },
        (index, out, derivative) => lossOfOne((some[index] as Case).is, out, derivative),
      ),
    ),
  );
}

function tryOn(net: Network, some: readonly { mixed: MixedLoop; cases: readonly MixtureCase[][] }[], to: MixtureScore) {
  for (const { mixed, cases: all } of some) {
    const heard = mixed.mixtures.heard(net);
    for (const [i, own] of all.entries())
      to.add(
        mixed,
        i,
        own,
        own.filter(({ family }) => heard[i]?.some((drum) => drum.family === family)),
      );
  }
}

const all = new MixtureScore();
for (const left of new Set(cases.map(({ lineage }) => lineage))) {
  const net = learn(
    cases.filter(({ lineage }) => lineage !== left),
    [1],
  );
  const score = new MixtureScore();
  const own = loops.filter(({ mixed }) => mixed.kit.lineage === left);
  for (const to of [score, all]) tryOn(net, own, to);
  console.log(`learnt without ${left}: ${score.report()}`);
}
console.log(`all lineages: ${all.report()}`);
const from = `Learnt by \`npm run train-mixtures\` from ${cases.length} cases in ${loops.length} loops of the tuning kits`;
writeFileSync(OUT, networkModule('MIXTURE_NETWORK', learn(cases, [1, 2]), from));
