import type { Sureness } from '../../../src/core/describe/sureness';

/** A guess as a network made it: the chance it gave, and whether it was right. */
export interface Chanced {
  readonly chance: number;
  readonly right: boolean;
  /** How much it counts. */
  readonly weight: number;
}

/** Guesses taken together at the least: with fewer, chance would be learnt. */
const LEAST = 40;

/**
 * How often guesses were right by the chance they were given, never less often for a higher one: neighbours that would be are pooled (M.
 * Ayer et al., "An empirical distribution function for sampling with incomplete information", Annals of Mathematical Statistics 26, 1955).
 */
export function isotonic(guesses: readonly Chanced[]): Sureness {
  const sorted = [...guesses].sort((a, b) => a.chance - b.chance);
  const pooled: Chanced[][] = [];
  for (let at = 0; at < sorted.length; at += LEAST) {
    pooled.push(sorted.slice(at, at + LEAST));
    for (let last = pooled.pop() as Chanced[]; ; ) {
      const before = pooled.at(-1);
      if (!before || shareRight(before) < shareRight(last)) {
        pooled.push(last);
        break;
      }
      pooled.pop();
      last = [...before, ...last];
    }
  }
  return pooled.map((some) => {
    const sum = (of: (guess: Chanced) => number) => some.reduce((all, guess) => all + guess.weight * of(guess), 0);
    return [sum((guess) => guess.chance) / sum(() => 1), shareRight(some)];
  });
}

/** Nothing is always right because so many were (Laplace's rule of succession). */
function shareRight(some: readonly Chanced[]): number {
  let [right, all] = [0, 0];
  for (const guess of some) {
    all += guess.weight;
    if (guess.right) right += guess.weight;
  }
  return ((right / all) * some.length + 1) / (some.length + 2);
}
