/**
 * Half-band filters of two branches of all-pass sections: to twice a rate and back without the delay of a symmetric filter
 * (R. Valenzuela, A. Constantinides, "Digital signal processing schemes for efficient interpolation and decimation", IEE
 * Proc. 130 G, 1983; elliptic design by theta series). What lies near the edge is delayed more than what lies under it.
 */
export interface HalfBand {
  /** One a section, those of both branches by turns. */
  readonly coefficients: Float64Array;
}

/** So many sections, with a transition of so wide a share of the doubled rate around its quarter. */
export function halfBand(sections: number, transition: number): HalfBand {
  const k = Math.tan(((1 - 2 * transition) * Math.PI) / 4) ** 2;
  const root = (1 - k * k) ** 0.25;
  const e = (0.5 * (1 - root)) / (1 + root);
  const q = e * (1 + e ** 4 * (2 + e ** 4 * (15 + 150 * e ** 4)));
  const order = 2 * sections + 1;
  const coefficients = Float64Array.from({ length: sections }, (_, index) => {
    const c = index + 1;
    let above = 0;
    let below = 0.5;
    for (let i = 0; i < 8; i++) {
      above += (-1) ** i * q ** (i * (i + 1)) * Math.sin(((2 * i + 1) * c * Math.PI) / order);
      if (i > 0) below += (-1) ** i * q ** (i * i) * Math.cos((2 * i * c * Math.PI) / order);
    }
    const w = ((above * q ** 0.25) / below) ** 2;
    const x = Math.sqrt((1 - w * k) * (1 - w / k)) / (1 + w);
    return (1 - x) / (1 + x);
  });
  return { coefficients };
}

/** Doubles of the state of one direction and channel: what came in and went out of each section. */
export function stateFloats({ coefficients }: HalfBand): number {
  return 2 * coefficients.length;
}

/** Raises `count` values of `x` from `at` on to twice the rate, in `out` from 0 on. `state` begins at float `from`. */
export function raise(
  { coefficients: c }: HalfBand,
  state: Float64Array,
  from: number,
  x: Float64Array,
  at: number,
  count: number,
  out: Float64Array,
): void {
  const { length } = c;
  for (let n = 0; n < count; n++) {
    const value = x[at + n] as number;
    for (let branch = 0; branch < 2; branch++) {
      let y = value;
      for (let s = branch; s < length; s += 2) {
        const place = from + 2 * s;
        const next = (y - (state[place + 1] as number)) * (c[s] as number) + (state[place] as number);
        state[place] = y;
        state[place + 1] = next;
        y = next;
      }
      out[2 * n + branch] = y;
    }
  }
}

/** Lowers 2 `count` values of `x` to half the rate, in `out` from `at` on. */
export function lower(
  { coefficients: c }: HalfBand,
  state: Float64Array,
  from: number,
  x: Float64Array,
  count: number,
  out: Float64Array,
  at: number,
): void {
  const { length } = c;
  for (let n = 0; n < count; n++) {
    let sum = 0;
    for (let branch = 0; branch < 2; branch++) {
      let y = x[2 * n + 1 - branch] as number;
      for (let s = branch; s < length; s += 2) {
        const place = from + 2 * s;
        const next = (y - (state[place + 1] as number)) * (c[s] as number) + (state[place] as number);
        state[place] = y;
        state[place + 1] = next;
        y = next;
      }
      sum += y;
    }
    out[at + n] = sum / 2;
  }
}
