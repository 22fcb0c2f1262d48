/** Brings a number of `seedOf` into [0, 1). Multiplying where it is used allocates no number, as returning one may. */
export const CHANCE_UNIT = 2 ** -30;

/** A number in [0, 1) that depends on its arguments alone. */
export function chanceOf(seed: number, n: number): number {
  return seedOf(seed, n) * CHANCE_UNIT;
}

/**
 * A seed made of another and a number: the mixing steps of MurmurHash3 (A. Appleby, public domain). It has 30 bits, which
 * a JavaScript engine holds without allocating.
 */
export function seedOf(seed: number, n: number): number {
  let h = (seed ^ Math.imul(n | 0, 0x9e3779b1)) | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 2;
}
