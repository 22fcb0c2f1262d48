import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { envelopeOf } from '../../../src/core/describe/envelope';
import { FAMILY_INPUTS, familyInputs, TOLD_FAMILIES } from '../../../src/core/describe/family';
import type { Network } from '../../../src/core/describe/network';
import { logistic, runNetwork, softmax } from '../../../src/core/describe/network';
import { rootOf } from '../../../src/core/describe/root';
import { BANDS, Sketcher } from '../../../src/core/describe/sketch';
import { textureOf } from '../../../src/core/describe/texture';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { keepWithout, learnNetwork, networkModule, together } from '../learning';
import { LAYERS, namedSounds, type OneShot, oneShots, TUNING_KITS } from './percussion';

/**
 * `npm run train-families`: learns to tell families from the percussion of the tuning kits, each sound many times over as
 * recordings have it: cut short, pitched, filtered, in noise, under a tail, and struck together with another. At first it learns
 * without one lineage of kits at a time and tries on that, by which the settings were chosen and how sure it is told to be.
 */
const COPIES = 6;
/** Strength of what is varied: logarithms of power over wide bands, a group of cells and narrow bands, bands, and the other figures. */
const TILT = 1.2;
const FALL = 0.25;
const GRAIN = 1;
const SHIFT = 1.4;
const JITTER = 0.6;
const OUT = 'src/core/describe/family-weights.ts';

interface Case {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly family: number;
  readonly contains: Float64Array;
  readonly weight: number;
}

const random = seededRandom(77);
const between = (low: number, high: number) => low + (high - low) * random();
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
const sketcher = new Sketcher(RATE);
const BEFORE = 3000;

function energy(x: Float32Array, from: number, to: number): number {
  let sum = 1e-12;
  for (let i = from; i < Math.min(to, x.length); i++) sum += (x[i] as number) ** 2;
  return sum;
}

/** Played faster or slower, by linear interpolation; tilted by a first difference mixed in or a running mean. */
function altered({ samples }: OneShot): Float32Array {
  const ratio = 2 ** (between(-3, 3) / 12);
  const length = Math.floor((samples.length - 1) / ratio);
  const tilt = between(-0.5, 0.5);
  const out = new Float32Array(Math.min(length, RATE * 2));
  let previous = 0;
  for (let i = 0; i < out.length; i++) {
    const at = i * ratio;
    const k = Math.floor(at);
    const x = (samples[k] as number) + (at - k) * ((samples[k + 1] as number) - (samples[k] as number));
    out[i] = x - tilt * previous;
    previous = x;
  }
  return out;
}

function add(into: Float32Array, at: number, x: Float32Array, gain: number): void {
  for (let i = 0; i < x.length && at + i < into.length; i++)
    into[at + i] = (into[at + i] as number) + gain * (x[i] as number);
}

/** How much a family stands out in a mixture of equal energies: what a person would call the mixture. */
const PROMINENCE: Readonly<Record<string, number>> = { 'closed hat': 0.3, 'open hat': 0.4, cymbal: 0.6 };

function caseOf(shot: OneShot, others: readonly OneShot[], plain: boolean): Case {
  const sound = plain ? shot.samples : altered(shot);
  const whole = Math.min(sound.length, RATE * 2);
  const mix = new Float32Array(BEFORE + whole);
  const early = RATE * 0.15;
  const own = energy(sound, 0, early);
  add(mix, BEFORE, sound, 1);
  const contains = new Float64Array(TOLD_FAMILIES.length);
  contains[TOLD_FAMILIES.indexOf(shot.family)] = 1;
  let family = TOLD_FAMILIES.indexOf(shot.family);
  if (!plain && random() < 0.3) {
    const other = pick(others);
    const second = altered(other);
    const db = between(-18, 3);
    add(
      mix,
      BEFORE + Math.round(between(0, 0.004) * RATE),
      second,
      Math.sqrt(own / energy(second, 0, early)) * 10 ** (db / 20),
    );
    const f = TOLD_FAMILIES.indexOf(other.family);
    // Too far under to be heard is not asked for.
    contains[f] = Math.max(contains[f] as number, db > -12 ? 1 : 0.5);
    if (10 ** (db / 10) * (PROMINENCE[other.family] ?? 1) > (PROMINENCE[shot.family] ?? 1)) family = f;
  }
  if (!plain && random() < 0.35) {
    // The tail of another, begun before.
    const tail = altered(pick(others)).subarray(Math.round(between(0.1, 0.4) * RATE));
    const gain = Math.sqrt(own / energy(tail, 0, early)) * 10 ** (between(-40, -10) / 20);
    add(mix, 0, tail, gain);
  }
  if (!plain && random() < 0.5) {
    const level = Math.sqrt(own / early) * 10 ** (between(-60, -25) / 20);
    for (let i = 0; i < mix.length; i++) mix[i] = (mix[i] as number) + level * 3.5 * (random() - 0.5);
  }
  const start = plain ? BEFORE : BEFORE + Math.round(between(-0.0015, 0.0015) * RATE);
  const end =
    plain || random() < 0.4 ? mix.length : Math.min(mix.length, start + Math.round(0.06 * 2 ** between(0, 4.5) * RATE));
  const heard = mix.subarray(start, end);
  const inputs = familyInputs({
    sketch: sketcher.sketch(mix, start, end),
    texture: textureOf(heard, RATE),
    envelope: envelopeOf(heard, RATE),
    root: rootOf(heard, RATE),
    seconds: heard.length / RATE,
  });
  return { lineage: shot.lineage, inputs, family, contains, weight: 1 };
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

/** Other ears, rooms and skins: levels of neighbouring bands move together, and all fall faster or slower. */
function another(values: Float64Array, chance: () => number): void {
  const knots = Array.from({ length: 6 }, () => (chance() + chance() - 1) * TILT);
  const fall = (chance() + chance() - 1) * FALL;
  const shift = Math.round((chance() + chance() - 1) * SHIFT);
  const groups = 7;
  const copy = values.slice(0, groups * BANDS);
  for (let g = 0; g < groups; g++) {
    for (let b = 0; b < BANDS; b++) {
      const at = (b / (BANDS - 1)) * (knots.length - 1.001);
      const k = Math.floor(at);
      const gain = (knots[k] as number) * (k + 1 - at) + (knots[k + 1] as number) * (at - k);
      const from = Math.max(0, Math.min(BANDS - 1, b + shift));
      const level = (copy[g * BANDS + from] as number) + gain + fall * g + (chance() - 0.5) * GRAIN;
      values[g * BANDS + b] = Math.max(-7, level);
    }
  }
  for (let i = groups * BANDS + 1; i < values.length; i++)
    values[i] = (values[i] as number) + (chance() - 0.5) * JITTER;
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
console.log(`${shots.length} sounds, ${FAMILY_INPUTS} figures each.`);
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
for (const [left, net] of without) keepWithout(left, asSure(net, divisor), folder);
const net = learn(cases);
console.log(tried(net, plain));
const from = `Learnt by \`npm run train-families\` from ${cases.length} cases of ${shots.length} sounds of the tuning kits`;
writeFileSync(OUT, networkModule('FAMILY_NETWORK', asSure(net, divisor), from));
