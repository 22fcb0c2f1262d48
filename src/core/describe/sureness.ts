import { logistic } from './network';

/** Pairs of a network's probability and how often guesses with it were right, both rising. */
export type Sureness = readonly (readonly [chance: number, right: number])[];

/**
 * Calibrated confidence of a guess from the network's probability: how often such guesses were right on kits it was not
 * trained on, linear between the knots, constant beyond them (B. Zadrozny, C. Elkan, "Transforming classifier scores
 * into accurate multiclass probability estimates", KDD 2002).
 */
export function surenessOf(chance: number, knots: Sureness): number {
  const above = knots.findIndex(([at]) => at >= chance);
  const high = above < 0 ? knots.at(-1) : knots[above];
  const low = above > 0 ? knots[above - 1] : high;
  if (!high || !low) throw new RangeError('A sureness needs one knot at least.');
  if (low === high) return high[1];
  return low[1] + ((chance - low[0]) / (high[0] - low[0])) * (high[1] - low[1]);
}

/** Weights of the log odds, and the bias. */
export interface Joined {
  readonly family: number;
  readonly drum: number;
  readonly offset: number;
}

/**
 * Combines the confidence of the family given a drum with the probability of a drum: under music both fall, the second
 * sooner (D. Wolpert, "Stacked generalization", Neural Networks 5, 1992; by logistic regression).
 */
export function sureTogether(family: number, drum: number, by: Joined): number {
  return logistic(by.family * logOdds(family) + by.drum * logOdds(drum) + by.offset);
}

/** Bounds of every confidence. */
const SUREST = 0.999;

export function logOdds(chance: number): number {
  const some = Math.min(SUREST, Math.max(1 - SUREST, chance));
  return Math.log(some / (1 - some));
}
