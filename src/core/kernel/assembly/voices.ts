// Samples read between their frames, for the voices of the engine.

import { totals } from './functions';

/**
 * Frames of two channels from `position` on, `ratio` source frames apart, which grows by `bend` a frame, left and right by turns into
 * `out`; `count` of them, or one more where that is odd. `left` and `right` hold what lies around them as floats, frame `first` foremost. A frame weighs the `taps`
 * (a multiple of four) that lie around it by a row of `rows`, the two nearest of `phases` + 1 rows drawn together.
 */
export function readBetween(
  left: usize,
  right: usize,
  first: f64,
  position: f64,
  ratio: f64,
  bend: f64,
  count: i32,
  rows: usize,
  taps: i32,
  phases: f64,
  out: usize,
): void {
  const row = (<usize>taps) << 2;
  const firsts = f64x2.splat(first + <f64>((taps >> 1) - 1));
  const scale = f64x2.splat(phases);
  const apart = right - left;
  // Two frames a turn, so that the sums of one need not wait for those of the other.
  for (let n = 0; n < count; n += 2) {
    const next = position + ratio;
    const positions = f64x2(position, next);
    ratio += bend;
    position = next + ratio;
    ratio += bend;
    const whole = f64x2.floor(positions);
    const exact = f64x2.mul(f64x2.sub(positions, whole), scale);
    const phase = f64x2.floor(exact);
    const between = f32x4.demote_f64x2_zero(f64x2.sub(exact, phase));
    const betweenA = v128.shuffle<f32>(between, between, 0, 0, 0, 0);
    const betweenB = v128.shuffle<f32>(between, between, 1, 1, 1, 1);
    const frames = i32x4.trunc_sat_f64x2_s_zero(f64x2.sub(whole, firsts));
    const phaseRows = i32x4.trunc_sat_f64x2_s_zero(phase);
    let a = left + ((<usize>i32x4.extract_lane(frames, 0)) << 2);
    let b = left + ((<usize>i32x4.extract_lane(frames, 1)) << 2);
    let rowA = rows + <usize>i32x4.extract_lane(phaseRows, 0) * row;
    let rowB = rows + <usize>i32x4.extract_lane(phaseRows, 1) * row;
    let leftA = f32x4.splat(0);
    let leftB = f32x4.splat(0);
    let rightA = f32x4.splat(0);
    let rightB = f32x4.splat(0);
    const end = rowA + row;
    for (; rowA < end; rowA += 16, rowB += 16, a += 16, b += 16) {
      const hereA = v128.load(rowA);
      const hereB = v128.load(rowB);
      const weightA = f32x4.add(hereA, f32x4.mul(betweenA, f32x4.sub(v128.load(rowA + row), hereA)));
      const weightB = f32x4.add(hereB, f32x4.mul(betweenB, f32x4.sub(v128.load(rowB + row), hereB)));
      leftA = f32x4.add(leftA, f32x4.mul(weightA, v128.load(a)));
      leftB = f32x4.add(leftB, f32x4.mul(weightB, v128.load(b)));
      rightA = f32x4.add(rightA, f32x4.mul(weightA, v128.load(a + apart)));
      rightB = f32x4.add(rightB, f32x4.mul(weightB, v128.load(b + apart)));
    }
    v128.store(out + 8 * n, totals(leftA, rightA, leftB, rightB));
  }
}

/** The same of one channel, which is written to both sides. */
export function readBetweenMono(
  samples: usize,
  first: f64,
  position: f64,
  ratio: f64,
  bend: f64,
  count: i32,
  rows: usize,
  taps: i32,
  phases: f64,
  out: usize,
): void {
  const row = (<usize>taps) << 2;
  const firsts = f64x2.splat(first + <f64>((taps >> 1) - 1));
  const scale = f64x2.splat(phases);
  for (let n = 0; n < count; n += 2) {
    const next = position + ratio;
    const positions = f64x2(position, next);
    ratio += bend;
    position = next + ratio;
    ratio += bend;
    const whole = f64x2.floor(positions);
    const exact = f64x2.mul(f64x2.sub(positions, whole), scale);
    const phase = f64x2.floor(exact);
    const between = f32x4.demote_f64x2_zero(f64x2.sub(exact, phase));
    const betweenA = v128.shuffle<f32>(between, between, 0, 0, 0, 0);
    const betweenB = v128.shuffle<f32>(between, between, 1, 1, 1, 1);
    const frames = i32x4.trunc_sat_f64x2_s_zero(f64x2.sub(whole, firsts));
    const phaseRows = i32x4.trunc_sat_f64x2_s_zero(phase);
    let a = samples + ((<usize>i32x4.extract_lane(frames, 0)) << 2);
    let b = samples + ((<usize>i32x4.extract_lane(frames, 1)) << 2);
    let rowA = rows + <usize>i32x4.extract_lane(phaseRows, 0) * row;
    let rowB = rows + <usize>i32x4.extract_lane(phaseRows, 1) * row;
    let sumA = f32x4.splat(0);
    let sumB = f32x4.splat(0);
    const end = rowA + row;
    for (; rowA < end; rowA += 16, rowB += 16, a += 16, b += 16) {
      const hereA = v128.load(rowA);
      const hereB = v128.load(rowB);
      const weightA = f32x4.add(hereA, f32x4.mul(betweenA, f32x4.sub(v128.load(rowA + row), hereA)));
      const weightB = f32x4.add(hereB, f32x4.mul(betweenB, f32x4.sub(v128.load(rowB + row), hereB)));
      sumA = f32x4.add(sumA, f32x4.mul(weightA, v128.load(a)));
      sumB = f32x4.add(sumB, f32x4.mul(weightB, v128.load(b)));
    }
    v128.store(out + 8 * n, totals(sumA, sumA, sumB, sumB));
  }
}

/**
 * Adds `count` frames, left and right by turns as floats, to a bus of the same form, times two gains: doubles at `gains`,
 * which grow by `byLeft` and `byRight` a frame and are left as they are after the last. Gives the highest sample that was
 * added.
 */
export function mixFrames(frames: usize, count: i32, bus: usize, gains: usize, byLeft: f64, byRight: f64): f64 {
  if (byLeft === 0 && byRight === 0) return mixEvenly(frames, count, bus, gains);
  const by = f64x2(byLeft, byRight);
  let gain = v128.load(gains);
  let peak = f64x2.splat(0);
  const end = frames + ((<usize>count) << 3);
  for (let at = frames, to = bus; at < end; at += 8, to += 8) {
    const value = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(at)), gain);
    peak = f64x2.max(peak, f64x2.abs(value));
    const sum = f64x2.add(f64x2.promote_low_f32x4(v128.load64_zero(to)), value);
    store<f64>(to, f64x2.extract_lane(f32x4.demote_f64x2_zero(sum), 0));
    gain = f64x2.add(gain, by);
  }
  v128.store(gains, gain);
  return Math.max(f64x2.extract_lane(peak, 0), f64x2.extract_lane(peak, 1));
}

/** The same with gains that stand still, two frames a turn. */
function mixEvenly(frames: usize, count: i32, bus: usize, gains: usize): f64 {
  const gain = v128.load(gains);
  let peak = f64x2.splat(0);
  const even = frames + ((<usize>(count & ~1)) << 3);
  let at = frames;
  let to = bus;
  for (; at < even; at += 16, to += 16) {
    const both = v128.load(at);
    const first = f64x2.mul(f64x2.promote_low_f32x4(both), gain);
    const second = f64x2.mul(f64x2.promote_low_f32x4(v128.shuffle<f32>(both, both, 2, 3, 2, 3)), gain);
    peak = f64x2.max(peak, f64x2.max(f64x2.abs(first), f64x2.abs(second)));
    const there = v128.load(to);
    const sum = f32x4.demote_f64x2_zero(f64x2.add(f64x2.promote_low_f32x4(there), first));
    const next = f64x2.add(f64x2.promote_low_f32x4(v128.shuffle<f32>(there, there, 2, 3, 2, 3)), second);
    v128.store(to, v128.shuffle<f32>(sum, f32x4.demote_f64x2_zero(next), 0, 1, 4, 5));
  }
  if ((count & 1) === 1) {
    const value = f64x2.mul(f64x2.promote_low_f32x4(v128.load64_zero(at)), gain);
    peak = f64x2.max(peak, f64x2.abs(value));
    const sum = f64x2.add(f64x2.promote_low_f32x4(v128.load64_zero(to)), value);
    store<f64>(to, f64x2.extract_lane(f32x4.demote_f64x2_zero(sum), 0));
  }
  return Math.max(f64x2.extract_lane(peak, 0), f64x2.extract_lane(peak, 1));
}
