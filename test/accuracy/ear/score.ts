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
