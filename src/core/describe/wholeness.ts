import type { Candidate } from '../onset/detect';
import { SAME_SOUND_S } from '../onset/silence';
import type { Region } from '../onset/split';
import { BANDS, cellSeconds, cellSpanSeconds, type Sketch } from './sketch';

/** A sound is whole if it ends this close to where it dies away: in seconds, or as a share of its length. */
const NEAR_S = 0.03;
const NEAR_SHARE = 0.1;
/** A level this far under the loudest is inaudible, in dB. */
const NOT_MISSED_DB = -60;
/** Slowest assumed decay, in dB a second, where the sketch does not reach the end. */
const SLOWEST_FALL = 10;

/**
 * Level at a slice's end relative to its loudest part, in dB, where it is cut before its sound has died away. Null
 * where it is whole, or where the end of the sound is unknown. `candidates` of the recording, in order of time.
 */
export function cutShortDb(
  sketch: Sketch,
  { startFrame, endFrame }: Region,
  candidates: readonly Candidate[],
  sampleRate: number,
): number | null {
  const own = candidateAt(candidates, startFrame, SAME_SOUND_S * sampleRate);
  const near = Math.max(NEAR_S * sampleRate, NEAR_SHARE * (endFrame - startFrame));
  if (!own || own.decayEnd <= endFrame + near) return null;
  const levels = Array.from({ length: sketch.cells }, (_, cell) => {
    let power = 0;
    for (let b = 0; b < BANDS; b++) power += sketch.powers[cell * BANDS + b] as number;
    return 10 * Math.log10(power + 1e-14);
  });
  const peak = levels.indexOf(Math.max(...levels));
  const last = levels.length - 1;
  const fallen = (levels[last] as number) - (levels[peak] as number);
  const took = cellSeconds(last) - cellSeconds(peak);
  // The sketch ends about a second after the start; the decay is extrapolated from there.
  const beyond = Math.max(0, (endFrame - startFrame) / sampleRate - cellSeconds(last) - cellSpanSeconds(last) / 2);
  const fall = Math.max(SLOWEST_FALL, took > 0 ? -fallen / took : 0);
  const db = fallen - beyond * fall;
  return db < NOT_MISSED_DB ? null : db;
}

function candidateAt(candidates: readonly Candidate[], frame: number, reach: number): Candidate | undefined {
  let [low, high] = [0, candidates.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((candidates[middle] as Candidate).frame < frame - reach) low = middle + 1;
    else high = middle;
  }
  let best: Candidate | undefined;
  for (let i = low; i < candidates.length && (candidates[i] as Candidate).frame <= frame + reach; i++) {
    const candidate = candidates[i] as Candidate;
    if (!best || Math.abs(candidate.frame - frame) < Math.abs(best.frame - frame)) best = candidate;
  }
  return best;
}

/** Figures that order slices by bareness. */
export interface Bareness {
  readonly foreignDb: number;
  readonly cutShortDb: number | null;
  /** Maximum momentary loudness, in LUFS. */
  readonly lufs: number;
  readonly startFrame: number;
}

/**
 * Orders slices of one drum, the barest first, without ties: by foreign and missing energy together; then the louder;
 * then the earlier.
 */
export function byBareness(a: Bareness, b: Bareness): number {
  return flawDb(a) - flawDb(b) || b.lufs - a.lufs || a.startFrame - b.startFrame;
}

/**
 * Foreign energy and missing energy, in dB relative to the sound's own. For an exponential decay the energy after a
 * point relates to the whole as the level there relates to the peak.
 */
function flawDb({ foreignDb, cutShortDb: cut }: Bareness): number {
  return 10 * Math.log10(10 ** (foreignDb / 10) + (cut === null ? 0 : 10 ** (cut / 10)));
}
