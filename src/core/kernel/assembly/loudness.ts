// The power of a sound after two filters in a row.

/**
 * Sums of squares of `length` floats after two biquads, from one multiple of `step` frames to the next, each bound rounded, added to
 * doubles at `out`; so many sums are told. `coefficients` are doubles, b0, b1, b2, a1 and a2 of either filter.
 */
export function filteredEnergies(x: usize, length: i32, coefficients: usize, step: f64, weight: f64, out: usize): i32 {
  const b0 = load<f64>(coefficients),
    b1 = load<f64>(coefficients + 8),
    b2 = load<f64>(coefficients + 16),
    a1 = load<f64>(coefficients + 24),
    a2 = load<f64>(coefficients + 32);
  const d0 = load<f64>(coefficients + 40),
    d1 = load<f64>(coefficients + 48),
    d2 = load<f64>(coefficients + 56),
    c1 = load<f64>(coefficients + 64),
    c2 = load<f64>(coefficients + 72);
  // What went in, what came out of the first and what came out of the second, one and two samples ago.
  let x1: f64 = 0,
    x2: f64 = 0,
    y1: f64 = 0,
    y2: f64 = 0,
    z1: f64 = 0,
    z2: f64 = 0;
  let count = 0;
  for (let from = 0; from < length; count++) {
    const to = min<i32>(length, <i32>Math.round(<f64>(count + 1) * step));
    let sum: f64 = 0;
    for (let i = from; i < to; i++) {
      const here = <f64>load<f32>(x + 4 * i);
      // What came earlier first: only the last steps wait for one another.
      const y = b0 * here + (b1 * x1 + b2 * x2 - a2 * y2) - a1 * y1;
      const z = d0 * y + (d1 * y1 + d2 * y2 - c2 * z2) - c1 * z1;
      x2 = x1;
      x1 = here;
      y2 = y1;
      y1 = y;
      z2 = z1;
      z1 = z;
      sum += z * z;
    }
    store<f64>(out + 8 * count, load<f64>(out + 8 * count) + weight * sum);
    from = to;
  }
  return count;
}
