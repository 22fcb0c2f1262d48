import { whiten } from '../onset/lpc';

/** Order of the prediction: enough for the partials of a drum. */
const ORDER = 32;
/** Sound is taken as even over this many frames on either side. */
const BLOCK = 2048;
const OVERLAP = 1024;
/** The level before a click and after it is that of stretches this long, in ms. */
const AROUND_MS = 5;
/** What leaves the level higher by this factor of power is an attack. */
const ATTACK_RISE = 3;

export interface ClickSettings {
  /** How far the prediction error stands out of its usual size to be a click, as a factor. */
  readonly threshold: number;
  readonly longestMs: number;
}

/** A stretch that is replaced, half-open, in frames. */
export interface Click {
  readonly from: number;
  readonly to: number;
}

/**
 * Clicks of a channel: where an autoregressive prediction is off by far more than usual, for no longer than `longestMs`,
 * and the level is after it what it was before (S. Godsill, P. Rayner, "Digital audio restoration", 1998, sections 5.2
 * and 5.3).
 */
export function clicksOf(x: Float32Array, { threshold, longestMs }: ClickSettings, sampleRate: number): Click[] {
  const longest = Math.max(1, Math.round((longestMs / 1000) * sampleRate));
  const around = Math.round((AROUND_MS / 1000) * sampleRate);
  const marked = new Uint8Array(x.length);
  for (let at = 0; at < x.length; at += OVERLAP) {
    const start = Math.max(0, at - OVERLAP / 2);
    const end = Math.min(x.length, at + BLOCK - OVERLAP / 2);
    const last = Math.min(x.length, at + OVERLAP);
    const errors = whiten(x, { start, learnEnd: end, end }, ORDER, ({ residual }) =>
      residual.slice(at - start, last - start).map(Math.abs),
    );
    const usual = [...errors.subarray(0, last - at)].sort((p, q) => p - q)[Math.floor((last - at) / 2)] as number;
    for (let n = at; n < last; n++) if ((errors[n - at] as number) > threshold * (usual + 1e-9)) marked[n] = 1;
  }
  return runs(marked, longest).filter(({ from, to }) => {
    if (to - from > longest || from < ORDER) return false;
    const before = power(x, from - around, from);
    const after = power(x, to + 2, to + 2 + around);
    return after < ATTACK_RISE * before + 1e-12;
  });
}

/** Marked frames as stretches with a margin; those nearer to one another than a quarter of the longest are one. */
function runs(marked: Uint8Array, longest: number): Click[] {
  const found: { from: number; to: number }[] = [];
  for (let n = 0; n < marked.length; n++) {
    if (!marked[n]) continue;
    const last = found.at(-1);
    if (last && n - last.to <= longest / 4) last.to = n + 1;
    else found.push({ from: n, to: n + 1 });
  }
  return found.map(({ from, to }) => ({ from: Math.max(0, from - 2), to: Math.min(marked.length, to + 3) }));
}

/**
 * A channel with stretches put in anew: the samples for which the prediction error around them is least, by prediction
 * from both sides (A. Janssen, R. Veldhuis, L. Vries, "Adaptive interpolation of discrete-time signals that can be modeled
 * as autoregressive processes", IEEE Trans. ASSP 34, 1986). The model is learnt from what is around, twice.
 */
export function withoutClicks(x: Float32Array, clicks: readonly Click[]): Float32Array {
  const out = x.slice();
  for (const { from, to } of clicks) {
    straight(out, from, to);
    for (let round = 0; round < 2; round++) {
      const [start, end] = [Math.max(0, from - BLOCK / 2), Math.min(out.length, to + BLOCK / 2)];
      const around = { start, learnEnd: end, end };
      fill(
        out,
        from,
        to,
        whiten(out, around, ORDER, ({ coefficients }) => coefficients.slice()),
      );
    }
  }
  return out;
}

/** A straight line over the gap, to begin with. */
function straight(x: Float32Array, from: number, to: number): void {
  const [before, after] = [x[from - 1] ?? 0, x[to] ?? 0];
  for (let n = from; n < to; n++) x[n] = before + ((after - before) * (n - from + 1)) / (to - from + 1);
}

/** Sets x[from, to) to what minimises the squared prediction error of all frames that reach over it. */
function fill(x: Float32Array, from: number, to: number, a: Float64Array): void {
  const count = to - from;
  // c = 1, -a1, .. : the error filter. Its autocorrelation is the matrix of the normal equations.
  const c = Float64Array.of(1, ...Array.from(a, (v) => -v));
  const auto = Float64Array.from({ length: ORDER + 1 }, (_, lag) => {
    let sum = 0;
    for (let k = 0; k + lag <= ORDER; k++) sum += (c[k] as number) * (c[k + lag] as number);
    return sum;
  });
  const at = (lag: number) => (Math.abs(lag) <= ORDER ? (auto[Math.abs(lag)] as number) : 0);
  const right = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let lag = -ORDER; lag <= ORDER; lag++) {
      const n = from + i + lag;
      if (n < from || n >= to) sum -= at(lag) * (x[n] ?? 0);
    }
    right[i] = sum;
  }
  const solved = solveBanded(count, at, right);
  for (let i = 0; i < count; i++) x[from + i] = solved[i] as number;
}

/** Solves a symmetric positive definite Toeplitz system of bandwidth `ORDER` by Cholesky's decomposition. */
function solveBanded(count: number, at: (lag: number) => number, right: Float64Array): Float64Array {
  const rows = Array.from({ length: count }, () => new Float64Array(ORDER + 1));
  const get = (i: number, j: number) => (rows[i] as Float64Array)[i - j] as number;
  for (let i = 0; i < count; i++)
    for (let j = Math.max(0, i - ORDER); j <= i; j++) {
      let sum = at(i - j) + (i === j ? 1e-9 : 0);
      for (let k = Math.max(0, i - ORDER); k < j; k++) if (j - k <= ORDER) sum -= get(i, k) * get(j, k);
      (rows[i] as Float64Array)[i - j] = i === j ? Math.sqrt(Math.max(sum, 1e-12)) : sum / get(j, j);
    }
  const y = right.slice();
  for (let i = 0; i < count; i++) {
    for (let k = Math.max(0, i - ORDER); k < i; k++) y[i] = (y[i] as number) - get(i, k) * (y[k] as number);
    y[i] = (y[i] as number) / get(i, i);
  }
  for (let i = count - 1; i >= 0; i--) {
    for (let k = i + 1; k < Math.min(count, i + ORDER + 1); k++) y[i] = (y[i] as number) - get(k, i) * (y[k] as number);
    y[i] = (y[i] as number) / get(i, i);
  }
  return y;
}

function power(x: Float32Array, from: number, to: number): number {
  let sum = 0;
  const [first, last] = [Math.max(0, from), Math.min(x.length, to)];
  for (let n = first; n < last; n++) sum += (x[n] as number) ** 2;
  return last > first ? sum / (last - first) : 0;
}
