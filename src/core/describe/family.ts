import type { Family } from '../family';
import type { SoundFigures } from './description';
import { laidNetwork } from './laid-network';
import { logistic, type Network, softmax } from './network';
import { networkInputs } from './network-inputs';
import { surenessOf, sureTogether } from './sureness';
import { AMONG_JOINED, SURE_ALONE, SURE_AMONG } from './sureness-knots';

/**
 * The families that the network tells apart, in the order of its outputs. A note, a voice or an effect belongs to none:
 * the probability of a drum is a figure of its own.
 */
export const TOLD_FAMILIES = [
  'kick',
  'tom',
  'snare',
  'rim',
  'clap',
  'closed hat',
  'open hat',
  'cymbal',
  'percussion',
] as const satisfies readonly Family[];
export type ToldFamily = (typeof TOLD_FAMILIES)[number];

/** The family estimated for a sound. */
export interface FamilyGuess {
  readonly family: ToldFamily;
  /** Confidence, 0..1: how often an estimate with this figure is right; docs/listening.md has the table. */
  readonly confidence: number;
  /** Probability, 0..1, of a drum stroke rather than only a note or an effect. */
  readonly drum: number;
  /** Every family found in the sound, the main one included, the surest first: a hat struck with a snare is both. */
  readonly contains: readonly ToldFamily[];
}

/** Whether a drum is more likely than not. */
export function likelyDrum({ drum }: { readonly drum: number }): boolean {
  return drum >= 0.5;
}

/** Least probability from which a family counts as contained. */
const CONTAINED = 0.5;

/** Class probabilities of a sound, from that sound alone. */
export interface Chances {
  /** Probabilities of `TOLD_FAMILIES`, given that a drum is struck. */
  readonly main: Float64Array;
  /** Probability of each family being in the sound, independent of the others. */
  readonly contains: Float64Array;
  /** Probability that a drum is struck. */
  readonly drum: number;
}

/**
 * Probabilities of `TOLD_FAMILIES`, then the independent ones of each family. The network comes from `npm run
 * train-families`.
 */
export function familyChances(sound: SoundFigures, network: Network): Pick<Chances, 'main' | 'contains'> {
  const out = laidNetwork(network).run(networkInputs(sound));
  const count = TOLD_FAMILIES.length;
  return { main: softmax(out.subarray(0, count)), contains: Float64Array.from(out.subarray(count), logistic) };
}

/** The most likely family and its probability. */
export interface Likeliest {
  readonly family: ToldFamily;
  readonly chance: number;
}

/** Estimate for a sound from that sound alone. */
export function likeliest(main: ArrayLike<number>): Likeliest {
  return likeliestTogether([{ main, foreignDb: Number.NEGATIVE_INFINITY }]);
}

/** A slice among others of one drum: its probabilities, and its foreign energy relative to its own, in dB. */
export interface ChancesOfOne {
  readonly main: ArrayLike<number>;
  readonly foreignDb: number;
}

/** Share of a slice's energy that is its own. */
function ownShare({ foreignDb }: Pick<ChancesOfOne, 'foreignDb'>): number {
  return 1 / (1 + 10 ** (foreignDb / 10));
}

/**
 * Probabilities of several slices of one drum: their mean, weighted by the share of energy that is each slice's own.
 * The product would be overconfident, because the errors are correlated.
 */
export function likeliestTogether(slices: readonly ChancesOfOne[]): Likeliest {
  const means = new Float64Array(TOLD_FAMILIES.length);
  let all = 0;
  for (const slice of slices) {
    const own = ownShare(slice);
    all += own;
    for (let f = 0; f < means.length; f++) means[f] = (means[f] as number) + own * (slice.main[f] as number);
  }
  const most = Math.max(...means);
  return { family: TOLD_FAMILIES[means.indexOf(most)] as ToldFamily, chance: most / all };
}

/**
 * Family and contained families of a sound alone. The confidence combines the probability of a drum with that of the
 * family given a drum.
 */
export function guessFamily({ main, contains, drum }: Chances): FamilyGuess {
  const { family, chance } = likeliest(main);
  const others = TOLD_FAMILIES.map((other, f) => ({ other, chance: contains[f] as number }))
    .filter((o) => o.other !== family && o.chance >= CONTAINED)
    .sort((a, b) => b.chance - a.chance);
  return {
    family,
    confidence: drum * surenessOf(chance, SURE_ALONE),
    drum,
    contains: [family, ...others.map(({ other }) => other)],
  };
}

/** Probability of a drum in slices of one group. */
export function drumTogether(slices: readonly (Pick<ChancesOfOne, 'foreignDb'> & Pick<Chances, 'drum'>)[]): number {
  const own = slices.map(ownShare);
  const all = own.reduce((sum, share) => sum + share, 0);
  return slices.reduce((sum, slice, i) => sum + slice.drum * ((own[i] as number) / all), 0);
}

/** The family of slices of one group of a recording. */
export function guessTogether(
  slices: readonly (ChancesOfOne & Pick<Chances, 'drum'>)[],
): Pick<FamilyGuess, 'family' | 'confidence' | 'drum'> {
  const { family, chance } = likeliestTogether(slices);
  const drum = drumTogether(slices);
  return { family, confidence: sureTogether(surenessOf(chance, SURE_AMONG), drum, AMONG_JOINED), drum };
}
