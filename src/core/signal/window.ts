/** Periodic Hann window of `size` samples, peak 1 (Harris 1978, "On the use of windows", table I). */
export function hann(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/** Modified Bessel function of the first kind, order zero, by its power series. */
export function besselI0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Kaiser window at `x` in [-1, 1] for shape `beta` (Kaiser & Schafer 1980); 0 outside. */
export function kaiser(x: number, beta: number): number {
  return Math.abs(x) >= 1 ? 0 : besselI0(beta * Math.sqrt(1 - x * x)) / besselI0(beta);
}
