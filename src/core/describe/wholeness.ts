import type { Candidate } from '../onset/detect';
import { SAME_SOUND_S } from '../onset/silence';
import type { Region } from '../onset/split';
import { BANDS, cellSeconds, cellSpanSeconds, type Sketch } from './sketch';

/** A sound is whole that ends this near to where it dies away: in seconds, or as a share of its length. */
const NEAR_S = 0.03;
const NEAR_SHARE = 0.1;
/** A level this far under the loudest is not missed, in dB. */
const NOT_MISSED_DB = -60;
/** Sounds are taken to fall at least this fast, in dB a second, where the sketch does not reach to the end. */
const SLOWEST_FALL = 10;

/**
 * How loud a slice still is where it ends, in dB against its loudest part, when it ends before its sound has died away:
 * cut short by the next stroke, or by hand. Null where it is whole, or where it is not known where the sound dies away.
 * `candidates` are those of the recording, in the order of time.
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
  // The sketch ends about a second after the start; from there the sound is taken to fall on as it fell.
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

/** What the order of slices from the barest on goes by. */
export interface Bareness {
  readonly foreignDb: number;
  readonly cutShortDb: number | null;
  /** Maximum momentary loudness. */
  readonly lufs: number;
  readonly startFrame: number;
}

/**
 * Orders slices of one drum from the barest on, without ties: by what is foreign in them and what is cut off of them,
 * together, against their own sound; of two alike the louder, which stands further out of the room, and then the earlier.
 */
export function byBareness(a: Bareness, b: Bareness): number {
  return flawDb(a) - flawDb(b) || b.lufs - a.lufs || a.startFrame - b.startFrame;
}

/**
 * Energy that is foreign and energy that is missing, in dB against the sound's own. Of a sound that falls evenly what comes
 * after a place is to the whole as the level there is to the peak.
 */
function flawDb({ foreignDb, cutShortDb: cut }: Bareness): number {
  return 10 * Math.log10(10 ** (foreignDb / 10) + (cut === null ? 0 : 10 ** (cut / 10)));
}
