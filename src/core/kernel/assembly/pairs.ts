// How two sounds differ, a network's answer to it, and how alike the answers of two are.

import { tangents, total } from './functions';

const CELLS = 13;
const ROW = CELLS * 24 * 4;
/** First cells of the zones, and the end of the last. */
const CELL_ZONES = memory.data<i32>([0, 1, 3, 6, 10, 13]);
/** Levels that are further apart than this are simply different. */
const FAR: f32 = 2.5;

/**
 * Differences of two sketches by zones of 4 bands and some cells, 30 of them, then the share that was compared and the cosine. A
 * sketch is a row of levels, 24 bands for each of 13 cells, then a row of masks with ones where a level is the sound's own; `cells` of
 * both are compared.
 */
export function zoneDifferences(a: usize, b: usize, cells: i32, out: usize): void {
  const far = f32x4.splat(FAR);
  let all = f32x4.splat(0);
  let known = f32x4.splat(0);
  let dot = f32x4.splat(0);
  let squareA = f32x4.splat(0);
  let squareB = f32x4.splat(0);
  for (let z = 0; z < 5; z++) {
    const first = min(cells, load<i32>(CELL_ZONES + 4 * z));
    const last = min(cells, load<i32>(CELL_ZONES + 4 * z + 4));
    for (let group = 0; group < 6; group++) {
      let sum = f32x4.splat(0);
      let weight = f32x4.splat(0);
      for (let cell = first; cell < last; cell++) {
        const at = <usize>(96 * cell + 16 * group);
        const x = v128.load(a + at);
        const y = v128.load(b + at);
        const own = v128.and(v128.load(a + ROW + at), v128.load(b + ROW + at));
        const heard = f32x4.max(x, y);
        const compared = v128.and(heard, own);
        all = f32x4.add(all, heard);
        known = f32x4.add(known, compared);
        weight = f32x4.add(weight, compared);
        sum = f32x4.add(sum, f32x4.mul(compared, f32x4.min(far, f32x4.abs(f32x4.sub(x, y)))));
        const ownX = v128.and(x, own);
        const ownY = v128.and(y, own);
        dot = f32x4.add(dot, f32x4.mul(ownX, ownY));
        squareA = f32x4.add(squareA, f32x4.mul(ownX, ownX));
        squareB = f32x4.add(squareB, f32x4.mul(ownY, ownY));
      }
      const whole = total(weight);
      store<f32>(out + 4 * (6 * z + group), whole > 0 ? total(sum) / whole : 0);
    }
  }
  const heard = total(all);
  const squares = total(squareA) * total(squareB);
  store<f32>(out + 120, heard > 0 ? total(known) / heard : 0);
  store<f32>(out + 124, squares > 0 ? total(dot) / sqrt<f32>(squares) : 1);
}

/**
 * The one output of a network with one hidden layer. `inputs` and `hidden` are multiples of 4, noughts where there are no more;
 * `inner` has a row of inputs for each hidden unit.
 */
export function networkScore(
  values: usize,
  inputs: i32,
  hidden: i32,
  inner: usize,
  offsets: usize,
  outer: usize,
  offset: f32,
): f32 {
  let score = f32x4.splat(0);
  const row = <usize>(4 * inputs);
  for (let h = 0; h < hidden; h += 4) {
    const at = inner + <usize>h * row;
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    let c = f32x4.splat(0);
    let d = f32x4.splat(0);
    for (let i: usize = 0; i < row; i += 16) {
      const x = v128.load(values + i);
      a = f32x4.add(a, f32x4.mul(x, v128.load(at + i)));
      b = f32x4.add(b, f32x4.mul(x, v128.load(at + row + i)));
      c = f32x4.add(c, f32x4.mul(x, v128.load(at + 2 * row + i)));
      d = f32x4.add(d, f32x4.mul(x, v128.load(at + 3 * row + i)));
    }
    // Four sums of four lanes at once.
    const ab = f32x4.add(v128.shuffle<f32>(a, b, 0, 4, 1, 5), v128.shuffle<f32>(a, b, 2, 6, 3, 7));
    const cd = f32x4.add(v128.shuffle<f32>(c, d, 0, 4, 1, 5), v128.shuffle<f32>(c, d, 2, 6, 3, 7));
    const units = f32x4.add(v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), v128.shuffle<f32>(ab, cd, 2, 3, 6, 7));
    const bent = tangents(f32x4.add(units, v128.load(offsets + 4 * h)));
    score = f32x4.add(score, f32x4.mul(bent, v128.load(outer + 4 * h)));
  }
  return offset + total(score);
}

/** Sum of products of two rows of floats, as many of them as `count`, a multiple of 4. */
export function dotProduct(a: usize, b: usize, count: i32): f32 {
  let sums = f32x4.splat(0);
  for (let i: usize = 0; i < <usize>(4 * count); i += 16)
    sums = f32x4.add(sums, f32x4.mul(v128.load(a + i), v128.load(b + i)));
  return total(sums);
}
