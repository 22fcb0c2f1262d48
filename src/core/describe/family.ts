import type { Family } from '../family';
import type { SoundFigures } from './description';
import { laidNetwork } from './laid-network';
import { logistic, type Network, softmax } from './network';
import { networkInputs } from './network-inputs';
import { surenessOf, sureTogether } from './sureness';
import { AMONG_JOINED, SURE_ALONE, SURE_AMONG } from './sureness-knots';

/** The families that are told by ear, in the order of the network's outputs. What is no drum - a note, a voice, an effect - has none: how likely it is one is told beside. */
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

/** What a sound is heard as. */
export interface FamilyGuess {
  readonly family: ToldFamily;
  /** 0..1: how often a guess with this figure is right; docs/listening.md has the table. */
  readonly confidence: number;
  /** 0..1: how likely a drum is struck at all, and not a note or an effect alone. */
  readonly drum: number;
  /** All families that are heard in it, the one above among them, the surest first: a hat struck with a snare is both. */
  readonly contains: readonly ToldFamily[];
}

/** Whether a drum is likelier struck than not. */
export function likelyDrum({ drum }: { readonly drum: number }): boolean {
  return drum >= 0.5;
}

/** A family is said to be contained from this probability on. */
const CONTAINED = 0.5;

/** What a sound may be, told by listening to it alone. */
export interface Chances {
  /** Probabilities of `TOLD_FAMILIES`, if a drum is struck. */
  readonly main: Float64Array;
  /** For each family by itself the probability that it is in the sound. */
  readonly contains: Float64Array;
  /** The probability that a drum is struck. */
  readonly drum: number;
}

/** Probabilities of `TOLD_FAMILIES`, then for each by itself that it is in the sound; by a network of `npm run train-families`. */
export function familyChances(sound: SoundFigures, network: Network): Pick<Chances, 'main' | 'contains'> {
  const out = laidNetwork(network).run(networkInputs(sound));
  const count = TOLD_FAMILIES.length;
  return { main: softmax(out.subarray(0, count)), contains: Float64Array.from(out.subarray(count), logistic) };
}

/** The likeliest family and its chance. */
export interface Likeliest {
  readonly family: ToldFamily;
  readonly chance: number;
}

/** What a sound alone is likeliest. */
export function likeliest(main: ArrayLike<number>): Likeliest {
  return likeliestTogether([{ main, foreignDb: Number.NEGATIVE_INFINITY }]);
}

/** A slice among others of one drum: its chances, and what is foreign in it against its own energy, in dB. */
export interface ChancesOfOne {
  readonly main: ArrayLike<number>;
  readonly foreignDb: number;
}

/** The share of a slice's energy that is its own. */
function ownShare({ foreignDb }: Pick<ChancesOfOne, 'foreignDb'>): number {
  return 1 / (1 + 10 ** (foreignDb / 10));
}

/**
 * What slices of one drum are likeliest: the mean of their chances and not the product, as they are wrong together; each counts by the share
 * of its energy that is its own.
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

/** The family of a sound by itself and what else is in it. It is as sure as that a drum is struck and, if so, that it is this one. */
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

/** How likely a drum is struck in slices that stand together. */
export function drumTogether(slices: readonly (Pick<ChancesOfOne, 'foreignDb'> & Pick<Chances, 'drum'>)[]): number {
  const own = slices.map(ownShare);
  const all = own.reduce((sum, share) => sum + share, 0);
  return slices.reduce((sum, slice, i) => sum + slice.drum * ((own[i] as number) / all), 0);
}

/** The family of slices of a recording that stand together. */
export function guessTogether(
  slices: readonly (ChancesOfOne & Pick<Chances, 'drum'>)[],
): Pick<FamilyGuess, 'family' | 'confidence' | 'drum'> {
  const { family, chance } = likeliestTogether(slices);
  const drum = drumTogether(slices);
  return { family, confidence: sureTogether(surenessOf(chance, SURE_AMONG), drum, AMONG_JOINED), drum };
}
