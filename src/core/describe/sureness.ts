import { logistic } from './network';

/** How often guesses were right whose likeliest family had a chance, in rising order of both. */
export type Sureness = readonly (readonly [chance: number, right: number])[];

/**
 * How sure a guess is told to be whose likeliest family a network gives a chance: as often as such guesses were right on kits it has
 * not learnt from, straight between the knots, flat beyond them (B. Zadrozny, C. Elkan, "Transforming classifier scores into accurate
 * multiclass probability estimates", KDD 2002).
 */
export function surenessOf(chance: number, knots: Sureness): number {
  const above = knots.findIndex(([at]) => at >= chance);
  const high = above < 0 ? knots.at(-1) : knots[above];
  const low = above > 0 ? knots[above - 1] : high;
  if (!high || !low) throw new RangeError('A sureness needs one knot at least.');
  if (low === high) return high[1];
  return low[1] + ((chance - low[0]) / (high[0] - low[0])) * (high[1] - low[1]);
}

/** Factors of log odds, and what is added to them. */
export interface Joined {
  readonly family: number;
  readonly drum: number;
  readonly offset: number;
}

/**
 * How sure a guess is told to be of which it is known how sure the family is if a drum alone is heard, and how likely a drum is heard at
 * all: under music both fall, the second sooner (D. Wolpert, "Stacked generalization", Neural Networks 5, 1992; by logistic regression).
 */
export function sureTogether(family: number, drum: number, by: Joined): number {
  return logistic(by.family * logOdds(family) + by.drum * logOdds(drum) + by.offset);
}

/** Nothing is surer than this, nor less sure than the rest. */
const SUREST = 0.999;

export function logOdds(chance: number): number {
  const some = Math.min(SUREST, Math.max(1 - SUREST, chance));
  return Math.log(some / (1 - some));
}
