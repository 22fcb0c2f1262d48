import { peakOf } from '../signal/audio';
import { periodOf } from './period';

/** The pitch of a sound at a moment. */
export interface PitchMoment {
  /** Time of the middle of the analysis window, in seconds from the start of the sound. */
  readonly atS: number;
  readonly hz: number;
  /** How clearly periodic the sound is there, 0..1. */
  readonly clarity: number;
}

const HOP_S = 0.008;
const LONGEST_S = 3;
/**
 * Lengths of the windows, shortest first: a short one follows a sweep, a long one holds enough periods of a low tone. The
 * first one with so many periods of the pitch it finds is used.
 */
const WINDOWS_S = [0.006, 0.01, 0.016, 0.026, 0.045, 0.09] as const;
const LEAST_PERIODS = 2.2;
const LEAST_CLARITY = 0.8;
/** Moments this far under the loudest are room. */
const FAR_UNDER = 10 ** (-48 / 20);
/** Moments so near in time and pitch belong to one another. */
const JOINED_S = 0.04;
const JOINED_OCTAVES = 0.4;

/** The pitch over the first seconds of a sound, at the moments where it has one (periods found as in `period.ts`). */
export function pitchTrack(samples: Float32Array, sampleRate: number): PitchMoment[] {
  const end = Math.min(samples.length, Math.round(LONGEST_S * sampleRate));
  const hop = Math.max(1, Math.round(HOP_S * sampleRate));
  const loudest = peakOf([samples], 0, end);
  const moments: PitchMoment[] = [];
  for (let at = 0; at < end; at += hop) {
    for (const seconds of WINDOWS_S) {
      const size = Math.round(seconds * sampleRate);
      if (at + size > end || peakOf([samples], at, at + size) <= loudest * FAR_UNDER) break;
      const found = periodOf(samples.subarray(at, at + size), sampleRate);
      if (!found || found.clarity < LEAST_CLARITY || found.hz * seconds < LEAST_PERIODS) continue;
      moments.push({ atS: (at + size / 2) / sampleRate, ...found });
      break;
    }
  }
  return moments.filter((moment, i) => isJoined(moment, moments[i - 1]) || isJoined(moment, moments[i + 1]));
}

/** A pitch that neither the moment before nor the one after has was a chance of the noise. */
function isJoined(a: PitchMoment, b: PitchMoment | undefined): boolean {
  return b !== undefined && Math.abs(a.atS - b.atS) < JOINED_S && Math.abs(Math.log2(a.hz / b.hz)) < JOINED_OCTAVES;
}
