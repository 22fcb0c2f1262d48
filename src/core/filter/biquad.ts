/** A second-order section: y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2]. */
export interface Biquad {
  readonly b: readonly [number, number, number];
  readonly a: readonly [number, number];
}

/** A channel through sections one after another, from rest, in double precision (transposed direct form II). */
export function filtered(channel: Float32Array, sections: readonly Biquad[]): Float32Array {
  if (sections.length === 0) return channel;
  const wide = new Float64Array(channel);
  for (const section of sections) filterInPlace(wide, section);
  return new Float32Array(wide);
}

/** The same for double precision, in place. */
export function filterInPlace(x: Float64Array, { b: [b0, b1, b2], a: [a1, a2] }: Biquad): void {
  let [s1, s2] = [0, 0];
  for (let n = 0; n < x.length; n++) {
    const value = x[n] as number;
    const out = b0 * value + s1;
    s1 = b1 * value - a1 * out + s2;
    s2 = b2 * value - a2 * out;
    x[n] = out;
  }
}

/** Gain of sections at a frequency, in dB: the digital H(z) on the unit circle. */
export function responseDb(sections: readonly Biquad[], hz: number, sampleRate: number): number {
  const w = (2 * Math.PI * hz) / sampleRate;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  let db = 0;
  for (const { b, a } of sections) {
    const above = (b[0] + b[1] * c1 + b[2] * c2) ** 2 + (b[1] * s1 + b[2] * s2) ** 2;
    const below = (1 + a[0] * c1 + a[1] * c2) ** 2 + (a[0] * s1 + a[1] * s2) ** 2;
    db += 10 * Math.log10(above / below + 1e-30);
  }
  return db;
}
