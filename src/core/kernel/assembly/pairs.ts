// How two sounds differ, a network's answer to it, and how alike the answers of two are.

import { coherenceFigures } from './coherence';
import { tangents, total, totals } from './functions';

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

/** Places among a sound's figures, and where those of its families begin. */
const PEAK = 0;
const DECAY = 1;
const LENGTH = 2;
const CROSSINGS = 3;
const BRIGHTNESS = 4;
const ROOT = 5;
const HAS_ROOT = 6;
const FAMILIES = 7;

/**
 * Differences of two sounds by their figures: level, decay as far as both reach, changes of sign, brightness, root - 0.3 where one has
 * none -, how alike their families are, and for each family how much likelier one holds it.
 */
export function figureDifferences(a: usize, b: usize, families: i32, out: usize): void {
  const length = min(figure(a, LENGTH), figure(b, LENGTH));
  store<f32>(out, min<f32>(30, apart(a, b, PEAK)) / 10);
  store<f32>(out + 4, abs(min(figure(a, DECAY), length) - min(figure(b, DECAY), length)));
  store<f32>(out + 8, apart(a, b, CROSSINGS));
  store<f32>(out + 12, apart(a, b, BRIGHTNESS));
  const pitched = figure(a, HAS_ROOT) * figure(b, HAS_ROOT) > 0;
  store<f32>(out + 16, pitched ? min<f32>(1, apart(a, b, ROOT)) : 0.3);
  let alike: f32 = 0;
  for (let f = FAMILIES; f < FAMILIES + families; f++) {
    alike += figure(a, f) * figure(b, f);
    store<f32>(out + 4 * (f - FAMILIES + 6), apart(a, b, f + families));
  }
  store<f32>(out + 20, alike);
}

function figure(row: usize, place: i32): f32 {
  return load<f32>(row + 4 * place);
}

function apart(a: usize, b: usize, place: i32): f32 {
  return abs(figure(a, place) - figure(b, place));
}

/** What is laid of a sound. */
@unmanaged
class Sound {
  cells: i32;
  levels: usize;
  figures: usize;
  head: usize;
}

/** All figures of how two sounds differ: of their sketches, of their figures, and how coherent their heads are. */
export function pairInputs(a: usize, b: usize, families: i32, out: usize): void {
  const x = changetype<Sound>(a);
  const y = changetype<Sound>(b);
  zoneDifferences(x.levels, y.levels, min(x.cells, y.cells), out);
  figureDifferences(x.figures, y.figures, families, out + 4 * 32);
  coherenceFigures(x.head, y.head, out + 4 * (38 + families));
}

/** A network with one hidden layer. `inputs` and `hidden` are multiples of 4, noughts where there are no more. */
@unmanaged
class Network {
  inputs: i32;
  hidden: i32;
  outputs: i32;
  /** A row of inputs for each hidden unit, and their offsets. */
  inner: usize;
  offsets: usize;
  /** A row of hidden units for each output, and their offsets. */
  outer: usize;
  outerOffsets: usize;
  /** Room for hidden units. */
  units: usize;
}

/** Outputs of a network. */
export function networkOutputs(network: usize, values: usize, out: usize): void {
  const net = changetype<Network>(network);
  const row = <usize>(4 * net.inputs);
  const units = net.units;
  for (let h = 0; h < net.hidden; h += 4) {
    const at = net.inner + <usize>h * row;
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
    v128.store(units + 4 * h, tangents(f32x4.add(totals(a, b, c, d), v128.load(net.offsets + 4 * h))));
  }
  for (let o = 0; o < net.outputs; o++) {
    const score = dotProduct(units, net.outer + 4 * o * net.hidden, net.hidden);
    store<f32>(out + 4 * o, score + load<f32>(net.outerOffsets + 4 * o));
  }
}

/**
 * What a network makes of each pair of a sound and one of `count` others, whose places stand at `others`; `values` has room for its inputs.
 */
export function pairScores(
  a: usize,
  others: usize,
  count: i32,
  families: i32,
  network: usize,
  values: usize,
  out: usize,
): void {
  for (let i = 0; i < count; i++) {
    pairInputs(a, load<u32>(others + 4 * i), families, values);
    networkOutputs(network, values, out + 4 * i);
  }
}

/** Sum of products of two rows of floats, as many of them as `count`, a multiple of 4. */
export function dotProduct(a: usize, b: usize, count: i32): f32 {
  let sums = f32x4.splat(0);
  for (let i: usize = 0; i < <usize>(4 * count); i += 16)
    sums = f32x4.add(sums, f32x4.mul(v128.load(a + i), v128.load(b + i)));
  return total(sums);
}
