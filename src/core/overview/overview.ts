import type { Candidate } from '../onset/detect';
import { tonalHops } from './tonal';

/** Content of a stretch of a recording. */
export const STRETCHES = ['quiet', 'bare', 'under', 'tones'] as const;
/** `bare`: struck sounds alone; `under`: struck sounds under held tones; `tones`: held tones without strikes. */
export type Stretch = (typeof STRETCHES)[number];

/** A recording at a glance: one entry a step. */
export interface Overview {
  readonly stepSeconds: number;
  readonly kind: readonly Stretch[];
  /** Root mean square in dBFS, -100 for nothing. */
  readonly levelDb: Float32Array;
  /** Frames of marks that are clicks, not strikes. */
  readonly clicks: readonly number[];
}

export const STEP_SECONDS = 0.2;
/** Context around a step, in seconds: about a bar of a fast song. */
const AROUND_S = 0.7;
/** Hops further under the loudest are ignored for tones. */
const FAR_UNDER_DB = 48;
/** A step is free of tones when, on one side of it, held tones have less than this share of the power, hop by hop. */
const TONAL_SHARE = 0.25;
/** Least number of sounding hops for a side to be considered. */
const HEARD_SHARE = 0.2;
/** Steps further under the loudest, without strikes, are quiet. */
const QUIET_DB = 45;

/**
 * Finds where struck sound is alone, where it is under music, and where there is none, in one channel. `candidates` are
 * its marks, clicks among them, in frames of `samples`. `peak` is the peak amplitude of the whole recording, the
 * reference for quietness.
 */
export function overviewOf(
  samples: Float32Array,
  sampleRate: number,
  candidates: readonly Candidate[],
  peak: number,
): Overview {
  const clicks = candidates.filter((c) => c.click).map((c) => c.frame);
  const strikes = candidates.filter((c) => !c.click).map((c) => c.frame);
  const { hop, power, tonal } = tonalHops(samples, sampleRate);
  const floor = hearable(power, peak);
  // Silent hops between strikes are evidence neither for nor against tones.
  const tonalShare = power.map((p, n) => (p > floor ? (tonal[n] as number) / p : Number.NaN));
  const steps = Math.ceil(samples.length / sampleRate / STEP_SECONDS);
  const levelDb = stepLevels(samples, sampleRate, steps);
  const loudestDb = 20 * Math.log10(Math.max(peak, 1e-6)) - 10;
  const kind: Stretch[] = [];
  let next = 0;
  for (let s = 0; s < steps; s++) {
    const centre = (s + 0.5) * STEP_SECONDS;
    while (next < strikes.length && (strikes[next] as number) / sampleRate < centre - AROUND_S) next++;
    const struck = next < strikes.length && (strikes[next] as number) / sampleRate < centre + AROUND_S;
    // Each side is judged alone, so that music before a bare bar does not count.
    const at = (centre * sampleRate) / hop;
    const reach = (AROUND_S * sampleRate) / hop;
    const sides = [at - reach, at].map((from) => mean(tonalShare, from, from + reach));
    const heard = sides.filter((share) => !Number.isNaN(share));
    const tones = heard.length > 0 && Math.min(...heard) >= TONAL_SHARE;
    const quiet = (levelDb[s] as number) < loudestDb - QUIET_DB;
    kind.push(struck ? (tones ? 'under' : 'bare') : quiet || !tones ? 'quiet' : 'tones');
  }
  return { stepSeconds: STEP_SECONDS, kind, levelDb, clicks };
}

/** Power under which a hop is ignored, far under the peak of the recording. */
function hearable(power: Float32Array, peak: number): number {
  let loudest = 0;
  for (const p of power) if (p > loudest) loudest = p;
  // A full-scale sine has magnitude 0.5 in one bin; music at a peak of 1 has some tenth of that power.
  return Math.max(loudest, 0.02 * peak * peak) * 10 ** (-FAR_UNDER_DB / 10);
}

/** The mean of the numbers among values `start` to `end`; NaN where they are too few. */
function mean(values: Float32Array, start: number, end: number): number {
  const from = Math.max(0, Math.ceil(start));
  const to = Math.min(values.length, Math.floor(end) + 1);
  let sum = 0;
  let count = 0;
  for (let n = from; n < to; n++) {
    const value = values[n] as number;
    if (Number.isNaN(value)) continue;
    sum += value;
    count++;
  }
  return count > (end - start) * HEARD_SHARE ? sum / count : Number.NaN;
}

function stepLevels(samples: Float32Array, sampleRate: number, steps: number): Float32Array {
  const out = new Float32Array(steps);
  for (let s = 0; s < steps; s++) {
    const from = Math.round(s * STEP_SECONDS * sampleRate);
    const to = Math.min(samples.length, Math.round((s + 1) * STEP_SECONDS * sampleRate));
    let sum = 0;
    for (let i = from; i < to; i++) sum += (samples[i] as number) ** 2;
    out[s] = Math.max(-100, 10 * Math.log10(sum / Math.max(1, to - from) + 1e-12));
  }
  return out;
}
