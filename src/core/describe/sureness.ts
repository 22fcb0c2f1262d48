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
