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

/** Power of the line of a spectrum whose period is `lag` floats, under a Hann window over all `length`. */
export function linePower(x: usize, length: i32, lag: f64): f64 {
  // Both circles are gone round step by step, four places at a time; over one window the rounding stays under 1e-12.
  const step = (2.0 * Math.PI) / lag;
  const hann = (2.0 * Math.PI) / <f64>length;
  let c0 = f64x2(1, Math.cos(step));
  let s0 = f64x2(0, Math.sin(step));
  let c1 = f64x2(Math.cos(2 * step), Math.cos(3 * step));
  let s1 = f64x2(Math.sin(2 * step), Math.sin(3 * step));
  let h0 = f64x2(1, Math.cos(hann));
  let g0 = f64x2(0, Math.sin(hann));
  let h1 = f64x2(Math.cos(2 * hann), Math.cos(3 * hann));
  let g1 = f64x2(Math.sin(2 * hann), Math.sin(3 * hann));
  const stepRe = f64x2.splat(Math.cos(4 * step));
  const stepIm = f64x2.splat(Math.sin(4 * step));
  const hannRe = f64x2.splat(Math.cos(4 * hann));
  const hannIm = f64x2.splat(Math.sin(4 * hann));
  const one = f64x2.splat(1);
  let re = f64x2.splat(0);
  let im = f64x2.splat(0);
  let i = 0;
  for (; i + 4 <= length; i += 4) {
    const a = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(x + 4 * i)), f64x2.sub(one, h0));
    const b = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(x + 4 * i + 8)), f64x2.sub(one, h1));
    re = f64x2.add(re, f64x2.add(f64x2.mul(a, c0), f64x2.mul(b, c1)));
    im = f64x2.add(im, f64x2.add(f64x2.mul(a, s0), f64x2.mul(b, s1)));
    let next = f64x2.sub(f64x2.mul(c0, stepRe), f64x2.mul(s0, stepIm));
    s0 = f64x2.add(f64x2.mul(c0, stepIm), f64x2.mul(s0, stepRe));
    c0 = next;
    next = f64x2.sub(f64x2.mul(c1, stepRe), f64x2.mul(s1, stepIm));
    s1 = f64x2.add(f64x2.mul(c1, stepIm), f64x2.mul(s1, stepRe));
    c1 = next;
    next = f64x2.sub(f64x2.mul(h0, hannRe), f64x2.mul(g0, hannIm));
    g0 = f64x2.add(f64x2.mul(h0, hannIm), f64x2.mul(g0, hannRe));
    h0 = next;
    next = f64x2.sub(f64x2.mul(h1, hannRe), f64x2.mul(g1, hannIm));
    g1 = f64x2.add(f64x2.mul(h1, hannIm), f64x2.mul(g1, hannRe));
    h1 = next;
  }
  let real = f64x2.extract_lane(re, 0) + f64x2.extract_lane(re, 1);
  let imaginary = f64x2.extract_lane(im, 0) + f64x2.extract_lane(im, 1);
  for (; i < length; i++) {
    const value = <f64>load<f32>(x + 4 * i) * (1 - Math.cos(hann * <f64>i));
    real += value * Math.cos(step * <f64>i);
    imaginary += value * Math.sin(step * <f64>i);
  }
  return real * real + imaginary * imaginary;
}
