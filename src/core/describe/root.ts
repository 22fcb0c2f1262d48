/** A fundamental with how clearly periodic the sound is there, 0..1. */
export interface Root {
  readonly hz: number;
  readonly clarity: number;
}

const LOWEST_HZ = 30;
const HIGHEST_HZ = 2000;
const WINDOW_S = 0.09;
const HOP_S = 0.03;
/** The first part of a strike sweeps and clatters; the pitch that is heard is the one it settles on. */
const SKIP_S = 0.03;
/** Windows further under the loudest than this say nothing. */
const FAR_UNDER_DB = 32;
/** Of the peaks of the function, the first that reaches this share of the highest is the period (McLeod & Wyvill's k). */
const FIRST_PEAK = 0.9;
const LEAST_CLARITY = 0.75;

/**
 * The pitch a sound settles on, or null where there is none to speak of: the normalised square difference function over
 * several windows (P. McLeod, G. Wyvill, "A smarter way to find pitch", ICMC 2005), the windows' pitches weighted by
 * clarity and level, and the median of those taken.
 */
export function rootOf(samples: Float32Array, sampleRate: number): Root | null {
  const size = Math.round(WINDOW_S * sampleRate);
  const hop = Math.round(HOP_S * sampleRate);
  const found: { hz: number; clarity: number; weight: number }[] = [];
  const starts: number[] = [];
  const skip = samples.length > 3 * size ? Math.round(SKIP_S * sampleRate) : 0;
  for (let at = skip; at + size <= samples.length && starts.length < 24; at += hop) starts.push(at);
  if (starts.length === 0) return null;
  const power = starts.map((at) => samples.subarray(at, at + size).reduce((sum, x) => sum + x * x, 0));
  const loudest = Math.max(...power);
  for (const [i, at] of starts.entries()) {
    if ((power[i] as number) < loudest * 10 ** (-FAR_UNDER_DB / 10) || loudest === 0) continue;
    const period = periodOf(samples.subarray(at, at + size), sampleRate);
    if (period) found.push({ ...period, weight: period.clarity * Math.sqrt(power[i] as number) });
  }
  if (found.length === 0) return null;
  found.sort((a, b) => a.hz - b.hz);
  const half = found.reduce((sum, f) => sum + f.weight, 0) / 2;
  let sum = 0;
  const middle = found.find((f) => {
    sum += f.weight;
    return sum >= half;
  }) as (typeof found)[number];
  // A pitch that most windows do not share is none.
  const near = found.filter((f) => Math.abs(Math.log2(f.hz / middle.hz)) < 1 / 12);
  const share = near.reduce((s, f) => s + f.weight, 0) / (2 * half);
  const clarity = (near.reduce((s, f) => s + f.clarity * f.weight, 0) / near.reduce((s, f) => s + f.weight, 0)) * share;
  return clarity >= LEAST_CLARITY ? { hz: middle.hz, clarity } : null;
}

function periodOf(window: Float32Array, sampleRate: number): Root | null {
  const longest = Math.min(Math.floor(sampleRate / LOWEST_HZ), Math.floor(window.length / 2));
  const shortest = Math.max(2, Math.floor(sampleRate / HIGHEST_HZ));
  const nsdf = new Float64Array(longest + 2);
  let energy = 2 * window.reduce((sum, x) => sum + x * x, 0);
  const length = window.length;
  for (let lag = 0; lag <= longest + 1; lag++) {
    let sum = 0;
    for (let i = 0; i < length - lag; i++) sum += (window[i] as number) * (window[i + lag] as number);
    nsdf[lag] = energy > 0 ? (2 * sum) / energy : 0;
    energy -= (window[lag] as number) ** 2 + (window[length - 1 - lag] as number) ** 2;
  }
  const peaks: number[] = [];
  let lag = 1;
  while (lag < longest && (nsdf[lag] as number) > 0) lag++;
  for (let best = -1; lag <= longest; lag++) {
    const x = nsdf[lag] as number;
    if (x > 0) {
      if (best < 0 || x > (nsdf[best] as number)) best = lag;
    }
    if ((x <= 0 || lag === longest) && best >= 0) {
      if (best > shortest && best < longest) peaks.push(best);
      best = -1;
    }
  }
  if (peaks.length === 0) return null;
  const highest = Math.max(...peaks.map((p) => nsdf[p] as number));
  const first = peaks.find((p) => (nsdf[p] as number) >= FIRST_PEAK * highest) as number;
  // The top of the parabola through the peak and its neighbours.
  const [l, m, r] = [nsdf[first - 1] as number, nsdf[first] as number, nsdf[first + 1] as number];
  const bend = l - 2 * m + r;
  const offset = bend === 0 ? 0 : (0.5 * (l - r)) / bend;
  const clarity = Math.min(1, m - 0.25 * (l - r) * offset);
  return clarity < 0.6 ? null : { hz: sampleRate / (first + offset), clarity };
}
