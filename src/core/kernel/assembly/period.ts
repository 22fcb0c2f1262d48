// What the period of a sound is told by.

import { total } from './functions';

/** Twice the sum of products of `length` floats with themselves `lag` later, over the sum of both squares: 1 where they are the same. */
export function likenessAt(x: usize, length: i32, lag: i32): f64 {
  let products = f64x2.splat(0);
  let squares = f64x2.splat(0);
  const later = x + 4 * lag;
  const count = length - lag;
  let i = 0;
  for (; i + 2 <= count; i += 2) {
    const a = f64x2.promote_low_f32x4(v128.load64_zero(x + 4 * i));
    const b = f64x2.promote_low_f32x4(v128.load64_zero(later + 4 * i));
    products = f64x2.add(products, f64x2.mul(a, b));
    squares = f64x2.add(squares, f64x2.add(f64x2.mul(a, a), f64x2.mul(b, b)));
  }
  let product = f64x2.extract_lane(products, 0) + f64x2.extract_lane(products, 1);
  let square = f64x2.extract_lane(squares, 0) + f64x2.extract_lane(squares, 1);
  for (; i < count; i++) {
    const a = <f64>load<f32>(x + 4 * i);
    const b = <f64>load<f32>(later + 4 * i);
    product += a * b;
    square += a * a + b * b;
  }
  return square > 0 ? (2 * product) / square : 0;
}

/** Every `factor`th of floats after a filter of `count` taps, an odd number of them, which stand in the middle on each that is kept. */
export function decimate(x: usize, length: i32, taps: usize, count: i32, factor: i32, out: usize): void {
  const reach = count >> 1;
  for (let n = 0; n < length / factor; n++) {
    const first = n * factor - reach;
    const from = max<i32>(0, -first);
    const to = min<i32>(count, length - first);
    let sums = f32x4.splat(0);
    let i = from;
    for (; i + 4 <= to; i += 4)
      sums = f32x4.add(sums, f32x4.mul(v128.load(taps + 4 * i), v128.load(x + 4 * (first + i))));
    let sum = total(sums);
    for (; i < to; i++) sum += load<f32>(taps + 4 * i) * load<f32>(x + 4 * (first + i));
    store<f32>(out + 4 * n, sum);
  }
}
