import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { TOLD_FAMILIES } from '../../../src/core/describe/family';
import type { Network } from '../../../src/core/describe/network';
import { logistic, runNetwork, softmax } from '../../../src/core/describe/network';
import { NETWORK_INPUTS } from '../../../src/core/describe/network-inputs';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { keepWithout, learnNetwork, networkModule, together } from '../learning';
import { add, addRoom, altered, another, BEFORE, between, energy, gainOver, LONGEST, pick, shownOf } from './disguise';
import { LAYERS, namedSounds, type OneShot, oneShots, TUNING_KITS } from './percussion';

/**
 * `npm run train-families`: learns to tell families from the percussion of the tuning kits, each sound many times over as
 * recordings have it: cut short, pitched, filtered, in noise, under a tail, and struck together with another. At first it learns
 * without one lineage of kits at a time and tries on that, by which the settings were chosen and how sure it is told to be.
 */
const COPIES = 6;
const OUT = 'src/core/describe/family-weights.ts';

interface Case {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly family: number;
  readonly contains: Float64Array;
  readonly weight: number;
}

const random = seededRandom(77);
/** How much a family stands out in a mixture of equal energies: what a person would call the mixture. */
const PROMINENCE: Readonly<Record<string, number>> = { 'closed hat': 0.3, 'open hat': 0.4, cymbal: 0.6 };

function caseOf(shot: OneShot, others: readonly OneShot[], plain: boolean): Case {
  const sound = plain ? shot.samples : altered(shot.samples, random);
  const mix = new Float32Array(BEFORE + Math.min(sound.length, LONGEST));
  const own = energy(sound);
  add(mix, BEFORE, sound, 1);
  const contains = new Float64Array(TOLD_FAMILIES.length);
  contains[TOLD_FAMILIES.indexOf(shot.family)] = 1;
  let family = TOLD_FAMILIES.indexOf(shot.family);
  if (!plain && random() < 0.3) {
    const other = pick(others, random);
    const second = altered(other.samples, random);
    const db = between(-18, 3, random);
    add(mix, BEFORE + Math.round(between(0, 0.004, random) * RATE), second, gainOver(own, second, db));
    const f = TOLD_FAMILIES.indexOf(other.family);
    // Too far under to be heard is not asked for.
    contains[f] = Math.max(contains[f] as number, db > -12 ? 1 : 0.5);
    if (10 ** (db / 10) * (PROMINENCE[other.family] ?? 1) > (PROMINENCE[shot.family] ?? 1)) family = f;
  }
  if (!plain && random() < 0.35) {
    // The tail of another, begun before.
    const tail = altered(pick(others, random).samples, random).subarray(Math.round(between(0.1, 0.4, random) * RATE));
    add(mix, 0, tail, gainOver(own, tail, between(-40, -10, random)));
  }
  if (!plain && random() < 0.5) addRoom(mix, own, random);
  return { lineage: shot.lineage, inputs: shownOf(mix, plain, random), family, contains, weight: 1 };
}

/** Several networks of different beginnings together err less than one. */
function learn(cases: readonly Case[]): Network {
  return together([1, 2].map((seed) => learnOne(cases, seed)));
}

function learnOne(cases: readonly Case[], seed: number): Network {
  const count = TOLD_FAMILIES.length;
  // Rare families count nearly as much as frequent ones.
  const share = new Float64Array(count);
  for (const c of cases) share[c.family] = (share[c.family] as number) + 1 / cases.length;
  const weights = cases.map((c) => (1 / count / (share[c.family] as number)) ** 0.8);
  return learnNetwork(
    cases.map((c) => c.inputs),
    { hidden: 96, outputs: 2 * count, epochs: 10, rate: 3e-3, decay: 2e-3, batch: 64, seed },
    (index, out, derivative) => {
      const { family, contains } = cases[index] as Case;
      const weight = weights[index] as number;
      const chances = softmax(out.subarray(0, count));
      let loss = -Math.log((chances[family] as number) + 1e-12) * weight;
      for (let f = 0; f < count; f++) {
        // A little doubt is left to every label, so that confidence stays honest.
        const wanted = (f === family ? 0.96 : 0) + 0.04 / count;
        derivative[f] = ((chances[f] as number) - wanted) * weight;
        const chance = logistic(out[count + f] as number);
        const there = contains[f] as number;
        if (there === 0.5) continue;
        derivative[count + f] = 0.3 * (chance - there) * weight;
        loss -= 0.3 * weight * Math.log((there === 1 ? chance : 1 - chance) + 1e-12);
      }
      return loss;
    },
    another,
  );
}

function tried(net: Network, cases: readonly Case[]): { f1: number; accuracy: number } {
  const count = TOLD_FAMILIES.length;
  const confusion = Array.from({ length: count }, () => new Float64Array(count));
  for (const { inputs, family } of cases) {
    const out = runNetwork(net, inputs).subarray(0, count);
    const row = confusion[family] as Float64Array;
    const best = out.indexOf(Math.max(...out));
    row[best] = (row[best] as number) + 1;
  }
  const scores = confusion.flatMap((row, f) => {
    const right = row[f] as number;
    const of = row.reduce((a, b) => a + b, 0);
    const told = confusion.reduce((sum, r) => sum + (r[f] as number), 0);
    return of === 0 ? [] : [(2 * right) / (of + told)];
  });
  console.log(
    confusion
      .map(
        (row, f) => `${String(TOLD_FAMILIES[f]).padEnd(11)} ${Array.from(row, (n) => String(n).padStart(5)).join('')}`,
      )
      .join('\n'),
  );
  const right = confusion.reduce((sum, row, f) => sum + (row[f] as number), 0);
  return { f1: scores.reduce((a, b) => a + b, 0) / scores.length, accuracy: right / cases.length };
}

/** How sure the network is told to be, as what its scores are divided by: the likeliest on sounds of kits it has not learnt from. */
function temperature(held: readonly { scores: Float64Array; family: number }[]): number {
  const loss = (t: number) =>
    held.reduce(
      (sum, { scores, family }) => sum - Math.log((softmax(scores.map((s) => s / t))[family] as number) + 1e-12),
      0,
    );
  const tried = Array.from({ length: 60 }, (_, i) => 0.5 + i * 0.1);
  return tried.reduce((best, t) => (loss(t) < loss(best) ? t : best));
}

/** A network whose scores of families are divided by a figure; what it says of contents stays. */
function asSure(net: Network, divisor: number): Network {
  const families = TOLD_FAMILIES.length;
  return {
    ...net,
    outer: net.outer.map((w, i) => (i % net.outputs < families ? w / divisor : w)),
    outerOffset: net.outerOffset.map((w, o) => (o < families ? w / divisor : w)),
  };
}

const folder = join(tmpdir(), 'undercroft-ear');
const shots = [
  ...oneShots(
    TUNING_KITS.filter(({ name }) => name !== 'takes'),
    LAYERS,
    folder,
  ),
  ...namedSounds(),
];
console.log(`${shots.length} sounds, ${NETWORK_INPUTS} figures each.`);
const cases = shots.flatMap((shot) => [
  caseOf(shot, shots, true),
  ...Array.from({ length: COPIES }, () => caseOf(shot, shots, false)),
]);
const plain = cases.filter((_, i) => i % (COPIES + 1) === 0);
const count = TOLD_FAMILIES.length;
const without = new Map<string, Network>();
const held: { scores: Float64Array; family: number }[] = [];
for (const left of new Set(cases.map((c) => c.lineage))) {
  const net = learn(cases.filter((c) => c.lineage !== left));
  without.set(left, net);
  const some = plain.filter((c) => c.lineage === left);
  const { f1, accuracy } = tried(net, some);
  console.log(`learnt without ${left}: macro-F1 ${f1.toFixed(3)}, accuracy ${accuracy.toFixed(3)} on it`);
  held.push(...some.map(({ inputs, family }) => ({ scores: runNetwork(net, inputs).slice(0, count), family })));
}
const divisor = temperature(held);
console.log(`scores divided by ${divisor.toFixed(1)}`);
for (const [left, net] of without) keepWithout(left, 'families', asSure(net, divisor), folder);
const net = learn(cases);
console.log(tried(net, plain));
const from = `Learnt by \`npm run train-families\` from ${cases.length} cases of ${shots.length} sounds of the tuning kits`;
writeFileSync(OUT, networkModule('FAMILY_NETWORK', asSure(net, divisor), from));
