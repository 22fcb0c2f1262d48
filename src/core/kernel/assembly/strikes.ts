// What is looked at about each strike: how loud and how sudden.

/** The greatest amount of `length` floats. */
export function highest(samples: usize, length: i32): f32 {
  let four = f32x4.splat(0);
  let i = 0;
  for (; i + 4 <= length; i += 4) four = f32x4.max(four, f32x4.abs(v128.load(samples + 4 * i)));
  let most = max<f32>(
    max<f32>(f32x4.extract_lane(four, 0), f32x4.extract_lane(four, 1)),
    max<f32>(f32x4.extract_lane(four, 2), f32x4.extract_lane(four, 3)),
  );
  for (; i < length; i++) most = max<f32>(most, abs<f32>(load<f32>(samples + 4 * i)));
  return most;
}

function secondDifference(at: usize): f64 {
  return <f64>load<f32>(at + 4) - 2 * <f64>load<f32>(at) + <f64>load<f32>(at - 4);
}

/** Sum of squares of the floats [from, to). */
export function plainEnergy(samples: usize, from: i32, to: i32): f64 {
  let sum: f64 = 0;
  for (let i = from; i < to; i++) {
    const x = <f64>load<f32>(samples + 4 * i);
    sum += x * x;
  }
  return sum;
}

/** Sum of squares of the second differences at [from, to); a float on either side is read as well. */
export function suddenEnergy(samples: usize, from: i32, to: i32): f64 {
  let sum: f64 = 0;
  for (let i = from; i < to; i++) {
    const d = secondDifference(samples + 4 * i);
    sum += d * d;
  }
  return sum;
}

/** Where in [from, to) the second difference is greatest; -1 where it is nought throughout. */
export function mostSudden(samples: usize, from: i32, to: i32): i32 {
  let most: f64 = 0;
  let where = -1;
  for (let i = from; i < to; i++) {
    const d = abs<f64>(secondDifference(samples + 4 * i));
    if (d > most) {
      most = d;
      where = i;
    }
  }
  return where;
}
