/** Mains hum: a steady tone of 50 or 60 Hz and its harmonics (IEC 60038), and where in a sound it can be heard alone. */

/** How far the mains may be off, in hertz. */
const OFF_HZ = 0.6;
const MAINS_HZ = [50, 60] as const;
/** Harmonics over this are not looked for. */
const HIGHEST_HZ = 1500;
/** Shortest stretch in which a hum is looked for, and shortest in which a known one is fitted, in seconds. */
const LEAST_FOUND_S = 0.2;
const LEAST_FITTED_S = 0.06;
/** Half the harmonics that are there stand out of what lies between them by this factor of power. */
const STANDS_OUT = 10;
const LEAST_HARMONICS = 2;
/** Frames that are averaged before a hum is fitted: it lies far under half the rate that is left. */
const DECIMATION = 8;
/** A harmonic is taken out where its power is so many times the variance of its estimate. */
const SURE = 12;

/** One harmonic of a hum: `cosine` * cos(2 pi hz t) + `sine` * sin(2 pi hz t), t from the first frame. */
export interface Harmonic {
  readonly hz: number;
  readonly cosine: number;
  readonly sine: number;
}

/** Power of a sound at a frequency, under a Hann window. */
function powerAt(x: Float32Array, hz: number, sampleRate: number): number {
  const turn = (2 * Math.PI * hz) / sampleRate;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  let [re, im] = [1, 0];
  let [a, b] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    const value = (x[i] as number) * (0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / x.length));
    a += value * re;
    b += value * im;
    const next = re * c - im * s;
    im = re * s + im * c;
    re = next;
  }
  return (a * a + b * b) / x.length ** 2;
}

/** The mean of every `DECIMATION` frames. */
function decimated(x: Float32Array): Float32Array {
  const out = new Float32Array(Math.floor(x.length / DECIMATION));
  for (let n = 0; n < out.length; n++) {
    let sum = 0;
    for (let i = n * DECIMATION; i < (n + 1) * DECIMATION; i++) sum += x[i] as number;
    out[n] = sum / DECIMATION;
  }
  return out;
}

/** The frequency of the hum in a stretch of room tone, in hertz; null where it has none, or is too short. */
export function findHum(room: Float32Array, sampleRate: number): number | null {
  if (room.length < LEAST_FOUND_S * sampleRate) return null;
  const x = decimated(room);
  const rate = sampleRate / DECIMATION;
  const step = Math.min(0.1, (0.1 * rate) / x.length);
  const powerOf = (hz: number) => harmonicsOf(hz).reduce((sum, harmonic) => sum + powerAt(x, harmonic, rate), 0);
  let best = { hz: 0, power: -1 };
  for (const mains of MAINS_HZ)
    for (let hz = mains - OFF_HZ; hz <= mains + OFF_HZ; hz += step) {
      const power = powerOf(hz);
      if (power > best.power) best = { hz, power };
    }
  // The vertex of a parabola through the powers around the highest.
  const [l, r] = [powerOf(best.hz - step), powerOf(best.hz + step)];
  const bend = l - 2 * best.power + r;
  const hz = best.hz + (bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (l - r)) / bend)) * step : 0);
  const clear = harmonicsOf(hz).filter((harmonic) => {
    const between = (powerAt(x, harmonic - hz / 2, rate) + powerAt(x, harmonic + hz / 2, rate)) / 2;
    return powerAt(x, harmonic, rate) > STANDS_OUT * between;
  });
  return clear.length >= LEAST_HARMONICS ? hz : null;
}

function harmonicsOf(hz: number): number[] {
  return Array.from({ length: Math.floor(HIGHEST_HZ / hz) }, (_, k) => (k + 1) * hz);
}

/**
 * The harmonics of a hum of known frequency, fitted by least squares where `isAlone` tells that nothing else sounds, a value
 * for every `DECIMATION` frames; those that are not sure are left out. Empty where too little is alone.
 */
export function fitHum(
  x: Float32Array,
  hz: number,
  sampleRate: number,
  isAlone: (from: number, to: number) => boolean,
): Harmonic[] {
  const small = decimated(x);
  const alone: number[] = [];
  for (let n = 0; n < small.length; n++) if (isAlone(n * DECIMATION, (n + 1) * DECIMATION)) alone.push(n);
  if (alone.length * DECIMATION < LEAST_FITTED_S * sampleRate) return [];
  const frequencies = harmonicsOf(hz);
  const size = 2 * frequencies.length;
  const matrix = Array.from({ length: size }, () => new Float64Array(size + 1));
  const row = new Float64Array(size);
  let energy = 0;
  for (const n of alone) {
    const t = (n * DECIMATION + (DECIMATION - 1) / 2) / sampleRate;
    for (const [k, frequency] of frequencies.entries()) {
      row[2 * k] = Math.cos(2 * Math.PI * frequency * t);
      row[2 * k + 1] = Math.sin(2 * Math.PI * frequency * t);
    }
    const value = small[n] as number;
    energy += value * value;
    for (let i = 0; i < size; i++) {
      const own = matrix[i] as Float64Array;
      const r = row[i] as number;
      for (let j = i; j < size; j++) own[j] = (own[j] as number) + r * (row[j] as number);
      own[size] = (own[size] as number) + r * value;
    }
  }
  for (let i = 0; i < size; i++) {
    for (let j = 0; j < i; j++) (matrix[i] as Float64Array)[j] = (matrix[j] as Float64Array)[i] as number;
    // What is hardly determined stays small.
    (matrix[i] as Float64Array)[i] = ((matrix[i] as Float64Array)[i] as number) * 1.001 + 1e-9;
  }
  const right = matrix.map((own) => own[size] as number);
  const solution = solved(matrix);
  const explained = solution.reduce((sum, value, i) => sum + value * (right[i] as number), 0);
  const variance = Math.max(0, energy - explained) / Math.max(1, alone.length - size);
  return frequencies.flatMap((frequency, k) => {
    const [cosine, sine] = [solution[2 * k] as number, solution[2 * k + 1] as number];
    if (cosine * cosine + sine * sine < (SURE * 2 * variance) / alone.length) return [];
    // The averaging before took this much of it.
    const half = (Math.PI * frequency) / sampleRate;
    const kept = Math.sin(DECIMATION * half) / (DECIMATION * Math.sin(half));
    return [{ hz: frequency, cosine: cosine / kept, sine: sine / kept }];
  });
}

/** Solves a linear system with the right side as last column, by elimination with row pivots. */
function solved(rows: readonly Float64Array[]): Float64Array {
  const size = rows.length;
  const order = [...rows];
  for (let c = 0; c < size; c++) {
    let pivot = c;
    for (let r = c + 1; r < size; r++)
      if (Math.abs((order[r] as Float64Array)[c] as number) > Math.abs((order[pivot] as Float64Array)[c] as number))
        pivot = r;
    [order[c], order[pivot]] = [order[pivot] as Float64Array, order[c] as Float64Array];
    const own = order[c] as Float64Array;
    for (let r = c + 1; r < size; r++) {
      const other = order[r] as Float64Array;
      const factor = (other[c] as number) / (own[c] as number);
      for (let k = c; k <= size; k++) other[k] = (other[k] as number) - factor * (own[k] as number);
    }
  }
  const out = new Float64Array(size);
  for (let c = size - 1; c >= 0; c--) {
    const own = order[c] as Float64Array;
    let sum = own[size] as number;
    for (let k = c + 1; k < size; k++) sum -= (own[k] as number) * (out[k] as number);
    out[c] = sum / (own[c] as number);
  }
  return out;
}

/** A sound with a share of a hum taken out of it. */
export function withoutHum(x: Float32Array, hum: readonly Harmonic[], sampleRate: number, share = 1): Float32Array {
  const out = x.slice();
  for (const { hz, cosine, sine } of hum) {
    const turn = (2 * Math.PI * hz) / sampleRate;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    let [re, im] = [1, 0];
    for (let i = 0; i < out.length; i++) {
      out[i] = (out[i] as number) - share * (cosine * re + sine * im);
      const next = re * c - im * s;
      im = re * s + im * c;
      re = next;
    }
  }
  return out;
}
