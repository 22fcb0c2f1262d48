/**
 * Agreement of two groupings of the same things, corrected for chance: 1 for the same, about 0 for unrelated ones (L. Hubert,
 * P. Arabie, "Comparing partitions", Journal of Classification 2, 1985).
 */
export function adjustedRand(a: readonly unknown[], b: readonly unknown[]): number {
  const pairs = (n: number) => (n * (n - 1)) / 2;
  const count = (keys: readonly string[]) => {
    const sizes = new Map<string, number>();
    for (const key of keys) sizes.set(key, (sizes.get(key) ?? 0) + 1);
    return [...sizes.values()].reduce((sum, n) => sum + pairs(n), 0);
  };
  const both = count(a.map((x, i) => `${x} | ${b[i]}`));
  const [inA, inB] = [count(a.map(String)), count(b.map(String))];
  const expected = (inA * inB) / pairs(a.length);
  const most = (inA + inB) / 2;
  return most === expected ? 1 : (both - expected) / (most - expected);
}

/** A guess of a family: how sure it was told to be, and whether it was right. */
export interface Guessed {
  readonly confidence: number;
  readonly right: boolean;
}

const BOUNDS = [0, 0.5, 0.7, 0.8, 0.9, 0.95];

/**
 * How many guesses were right of those told to be as sure, a line for each stretch of confidence; and how far off what was told is in the
 * mean (the expected calibration error over these stretches: C. Guo et al., "On calibration of modern neural networks", ICML 2017).
 */
export function reliability(guesses: readonly Guessed[]): string[] {
  let off = 0;
  const lines = BOUNDS.map((low, i) => {
    const high = BOUNDS[i + 1] ?? 1.01;
    const some = guesses.filter(({ confidence }) => confidence >= low && confidence < high);
    const right = some.filter((guess) => guess.right).length;
    off += Math.abs(some.reduce((sum, { confidence }) => sum + confidence, 0) - right) / guesses.length;
    const share = some.length === 0 ? '-' : `${Math.round((100 * right) / some.length)} %`;
    return `  of those given ${Math.round(low * 100)} to ${Math.min(100, Math.round(high * 100))} %: ${share} right (${some.length})`;
  });
  return [...lines, `  off by ${(100 * off).toFixed(1)} % in the mean`];
}

/** Of all pairs of a drum and another sound, the share in which the drum has the higher score: the area under the ROC curve (J. Hanley, B. McNeil, Radiology 143, 1982). */
export function toldApart(sounds: readonly { readonly score: number; readonly drum: boolean }[]): number {
  const others = sounds.filter(({ drum }) => !drum).map(({ score }) => score);
  const drums = sounds.filter(({ drum }) => drum).map(({ score }) => score);
  const won = drums.reduce(
    (sum, score) => sum + others.reduce((n, other) => n + (score > other ? 1 : score === other ? 0.5 : 0), 0),
    0,
  );
  return won / drums.length / others.length;
}
