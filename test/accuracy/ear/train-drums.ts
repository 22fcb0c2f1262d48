import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Network, runNetwork } from '../../../src/core/describe/network';
import { NETWORK_INPUTS } from '../../../src/core/describe/network-inputs';
import { seededRandom } from '../../../src/core/signal/random';
import { RATE } from '../fluid';
import { keepWithout, learnNetwork, lossOfOne, networkModule, together } from '../learning';
import { add, addRoom, altered, another, BEFORE, between, energy, gainOver, LONGEST, pick, shownOf } from './disguise';
import { otherSounds } from './notes';
import { LAYERS, namedSounds, oneShots, TUNING_KITS } from './percussion';
import { toldApart } from './score';

/**
 * `npm run train-drums`: learns to tell whether a drum is struck in a slice at all, from the percussion of the tuning kits and the notes
 * and effects of their SoundFonts, each many times over: cut short, pitched, filtered, in noise, under tails of drums and of notes, together
 * with other drums, and under chords (to be told what is no drum by examples of it: D. Hendrycks, M. Mazeika, T. Dietterich, "Deep anomaly
 * detection with outlier exposure", ICLR 2019). How sure it is told to be goes by what it tells of lineages it has not learnt from.
 */
const OUT = 'src/core/describe/drum-weights.ts';
const COPIES = 3;
/** How many of the slices that are listened to are taken to have a drum: of a loop all, of a song perhaps half. */
const USUAL = 0.8;

interface Sound {
  readonly lineage: string;
  readonly samples: Float32Array;
  readonly drum: boolean;
}

interface Case {
  readonly lineage: string;
  readonly inputs: Float32Array;
  readonly drum: boolean;
}

const random = seededRandom(91);

function caseOf({ samples, lineage, drum }: Sound, plain: boolean): Case {
  const sound = plain ? samples : altered(samples, random);
  const mix = new Float32Array(BEFORE + Math.min(sound.length, LONGEST));
  const own = energy(sound);
  add(mix, BEFORE, sound, 1);
  if (!plain) {
    const put = (other: Sound, at: number, db: number, from = 0) => {
      const x = altered(other.samples, random).subarray(from);
      add(mix, at, x, gainOver(own, x, db));
    };
    if (drum && random() < 0.3)
      put(pick(drums, random), BEFORE + Math.round(between(0, 0.004, random) * RATE), between(-18, 3, random));
    if (random() < 0.5)
      for (let i = between(1, 4, random); i >= 1; i--)
        put(pick(others, random), BEFORE + Math.round(between(-0.01, 0.01, random) * RATE), between(-18, 6, random));
    if (random() < 0.5) {
      const rings = pick(random() < 0.5 ? drums : others, random);
      put(rings, 0, between(-40, -3, random), Math.round(between(0.1, 0.4, random) * RATE));
    }
    if (random() < 0.5) addRoom(mix, own, random);
  }
  return { lineage, inputs: shownOf(mix, plain, random), drum };
}

function learn(cases: readonly Case[]): Network {
  return together(
    [1, 2].map((seed) =>
      learnNetwork(
        cases.map((c) => c.inputs),
        { hidden: 32, outputs: 1, epochs: 8, rate: 3e-3, decay: 2e-3, batch: 64, seed },
        (index, out, derivative) => lossOfOne((cases[index] as Case).drum, out, derivative),
        another,
      ),
    ),
  );
}

interface Held {
  readonly score: number;
  readonly drum: boolean;
}

/** What scores are multiplied by to be log odds: the likeliest on what was not learnt from (J. Platt, "Probabilistic outputs for support vector machines", 1999; its slope alone). */
function slopeOf(held: readonly Held[]): number {
  const loss = (slope: number) =>
    held.reduce((sum, { score, drum }) => sum + Math.log1p(Math.exp((drum ? -1 : 1) * slope * score)), 0);
  const tried = Array.from({ length: 60 }, (_, i) => 0.1 + i * 0.05);
  return tried.reduce((best, slope) => (loss(slope) < loss(best) ? slope : best));
}

const folder = join(tmpdir(), 'undercroft-ear');
const shots = oneShots(
  TUNING_KITS.filter(({ name }) => name !== 'takes'),
  LAYERS,
  folder,
);
const drums = [...shots, ...namedSounds()].map(({ lineage, samples }) => ({ lineage, samples, drum: true }));
/** A font of each lineage that has one. */
const fonts = new Map(
  [...TUNING_KITS].reverse().flatMap(({ lineage, fonts: [font] }) => (font ? [[lineage, font]] : [])),
);
const others = [...fonts].flatMap(([lineage, font]) =>
  otherSounds(font, lineage, folder).map((samples) => ({ lineage, samples, drum: false })),
);
const cases = [...drums, ...others].flatMap((sound) => [
  caseOf(sound, true),
  ...Array.from({ length: COPIES }, () => caseOf(sound, false)),
]);
console.log(`${drums.length} drums, ${others.length} notes and effects, ${NETWORK_INPUTS} figures each.`);
const without = new Map<string, Network>();
const held: Held[] = [];
for (const left of new Set(cases.map((c) => c.lineage))) {
  const net = learn(cases.filter((c) => c.lineage !== left));
  without.set(left, net);
  const some = cases
    .filter((c) => c.lineage === left)
    .map(({ inputs, drum }) => ({ score: runNetwork(net, inputs)[0] as number, drum }));
  // Some lineages have drums alone.
  const apart = some.some(({ drum }) => !drum) ? `${(100 * toldApart(some)).toFixed(1)} % of pairs told apart, ` : '';
  const missed = some.filter(({ score, drum }) => drum && score < 0).length / some.filter(({ drum }) => drum).length;
  console.log(`learnt without ${left}: ${apart}${(100 * missed).toFixed(1)} % of its drums missed`);
  held.push(...some);
}
const slope = slopeOf(held);
console.log(`all: ${(100 * toldApart(held)).toFixed(1)} %, scores times ${slope.toFixed(2)}`);
/** A network whose score is the log odds of a drum where as many have one as usually do. */
const asSure = (net: Network): Network => ({
  ...net,
  outer: net.outer.map((w) => w * slope),
  outerOffset: net.outerOffset.map((w) => w * slope + Math.log(USUAL / (1 - USUAL))),
});
for (const [left, net] of without) keepWithout(left, 'drums', asSure(net), folder);
const from = `Learnt by \`npm run train-drums\` from ${cases.length} cases of ${drums.length} drums and ${others.length} notes and effects`;
writeFileSync(OUT, networkModule('DRUM_NETWORK', asSure(learn(cases)), from));
