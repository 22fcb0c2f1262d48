import { logarithms, tangents, total } from './functions';
import { mark, release, reserve } from './memory';

// The places of placement.ts, in its steps.
const STEPS = 120;
const BEFORE = 56;
const FIRST_PLACE = 24;
const PLACES = 64;
const BASE_STEPS = 20;
const FEATURES_OF_ONE = 12;
const FEATURES = 39;
const TINY = 1e-12;
const MOST: f32 = 6;

/** Logarithms of `count` powers at `powers`, as doubles, to floats at `out`; up to three more are written after them. */
function levels(powers: usize, count: i32, out: usize): void {
  const floor = f64x2.splat(TINY);
  const none = f64x2.splat(0);
  for (let i = 0; i < count; i += 4) {
    const low = f64x2.add(f64x2.max(none, v128.load(powers + 8 * i)), floor);
    const high = f64x2.add(f64x2.max(none, v128.load(powers + 8 * i + 16)), floor);
    const four = v128.shuffle<f32>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 1, 4, 5);
    v128.store(out + 4 * i, logarithms(four));
  }
}

function put(out: usize, place: i32, at: i32, value: f32): void {
  store<f32>(out + 4 * (place * FEATURES + at), max<f32>(-MOST, min<f32>(MOST, value)));
}

/**
 * Mean powers in `STEPS` steps of `step` frames about frame `middle`, and running sums of them: a row each of the whitened signal, the
 * signal, and its second difference. `samples` holds `length` floats; `residual` doubles, of which the first
 * belongs to frame `residualAt`.
 */
export function placePowers(
  samples: usize,
  length: i32,
  residual: usize,
  residualLength: i32,
  residualAt: i32,
  middle: i32,
  step: f64,
  powers: usize,
  sums: usize,
): void {
  const row = 8 * STEPS;
  let from = beginning(middle, 0, step);
  for (let k = 0; k < STEPS; k++) {
    const to = beginning(middle, k + 1, step);
    const start = max<i32>(2, from);
    const end = min<i32>(to, length);
    let plain: f64 = 0;
    let sudden: f64 = 0;
    for (let i = start; i < end; i++) {
      const at = samples + 4 * i;
      const x = <f64>load<f32>(at);
      const d = x - 2 * <f64>load<f32>(at - 4) + <f64>load<f32>(at - 8);
      plain += x * x;
      sudden += d * d;
    }
    let whitened: f64 = 0;
    const last = min<i32>(end - residualAt, residualLength);
    for (let i = max<i32>(0, start - residualAt); i < last; i++) {
      const error = load<f64>(residual + 8 * i);
      whitened += error * error;
    }
    const n = <f64>max<i32>(1, to - from);
    const at = powers + 8 * k;
    store<f64>(at, whitened / n);
    store<f64>(at + row, plain / n);
    store<f64>(at + 2 * row, sudden / n);
    from = to;
  }
  for (let s = 0; s < 3; s++) {
    const at = sums + s * (row + 8);
    store<f64>(at, 0);
    for (let k = 0; k < STEPS; k++)
      store<f64>(at + 8 * (k + 1), load<f64>(at + 8 * k) + load<f64>(powers + s * row + 8 * k));
  }
}

function beginning(middle: i32, k: i32, step: f64): i32 {
  return <i32>Math.floor(<f64>middle + <f64>(k - BEFORE) * step + 0.5);
}

/** Features of all places from three rows of running sums and three of powers, as doubles. */
export function placeFeatures(sums: usize, powers: usize, out: usize): void {
  const start = mark();
  const means = reserve(8 * (STEPS + 4));
  const logs = reserve(4 * (STEPS + 8));
  for (let s = 0; s < 3; s++) {
    const sum = sums + 8 * (STEPS + 1) * s;
    const power = powers + 8 * STEPS * s;
    const column = s * FEATURES_OF_ONE;
    let most: f64 = 0;
    for (let k = FIRST_PLACE; k < STEPS; k++) most = max<f64>(most, load<f64>(power + 8 * k));
    store<f64>(means, most);
    store<f64>(means + 8, load<f64>(sum + 8 * BASE_STEPS) / <f64>BASE_STEPS);
    levels(means, 2, logs);
    const highest = load<f32>(logs);
    const base = load<f32>(logs + 4);
    for (let w = 0; w < 3; w++) {
      const width = w === 0 ? 2 : w === 1 ? 6 : 16;
      // The mean after one place is that before another, so each is worked out once; the first is that before the first place.
      const count = PLACES + width;
      for (let i = 0; i < count; i++) {
        const k = FIRST_PLACE - width + i;
        store<f64>(means + 8 * i, (load<f64>(sum + 8 * (k + width)) - load<f64>(sum + 8 * k)) / <f64>width);
      }
      levels(means, count, logs);
      for (let place = 0; place < PLACES; place++) {
        const before = load<f32>(logs + 4 * place);
        const after = load<f32>(logs + 4 * (place + width));
        put(out, place, column + 3 * w, after - before);
        put(out, place, column + 3 * w + 1, before - base);
        put(out, place, column + 3 * w + 2, after - highest);
      }
    }
    levels(power + 8 * (FIRST_PLACE - 1), PLACES + 2, logs);
    for (let place = 0; place < PLACES; place++) {
      const here = load<f32>(logs + 4 * (place + 1));
      put(out, place, column + 9, here - base);
      put(out, place, column + 10, here - load<f32>(logs + 4 * place));
      put(out, place, column + 11, load<f32>(logs + 4 * (place + 2)) - here);
    }
  }
  for (let place = 0; place < PLACES; place++) {
    const off = <f32>(FIRST_PLACE + place - BEFORE) * 0.05;
    put(out, place, FEATURES - 3, off);
    put(out, place, FEATURES - 2, abs<f32>(off));
    put(out, place, FEATURES - 1, max<f32>(0, off));
  }
  release(start);
}

/** Scores of all places by one hidden layer of `count` units, a multiple of 16, sixteen at a time. */
export function placeScores(features: usize, count: i32, inner: usize, offset: usize, outer: usize, out: usize): void {
  for (let place = 0; place < PLACES; place++) {
    let scores = f32x4.splat(0);
    for (let h = 0; h < count; h += 16) {
      const units = offset + 4 * h;
      let a = v128.load(units);
      let b = v128.load(units + 16);
      let c = v128.load(units + 32);
      let d = v128.load(units + 48);
      for (let f = 0; f < FEATURES; f++) {
        const value = v128.load32_splat(features + 4 * (place * FEATURES + f));
        const weights = inner + 4 * (f * count + h);
        a = f32x4.add(a, f32x4.mul(value, v128.load(weights)));
        b = f32x4.add(b, f32x4.mul(value, v128.load(weights + 16)));
        c = f32x4.add(c, f32x4.mul(value, v128.load(weights + 32)));
        d = f32x4.add(d, f32x4.mul(value, v128.load(weights + 48)));
      }
      const last = outer + 4 * h;
      scores = f32x4.add(scores, f32x4.mul(tangents(a), v128.load(last)));
      scores = f32x4.add(scores, f32x4.mul(tangents(b), v128.load(last + 16)));
      scores = f32x4.add(scores, f32x4.mul(tangents(c), v128.load(last + 32)));
      scores = f32x4.add(scores, f32x4.mul(tangents(d), v128.load(last + 48)));
    }
    store<f32>(out + 4 * place, total(scores));
  }
}
