import { peakOf } from '../signal/audio';
import { isClick } from './clicks';
import { tailsOf } from './decay';
import { energySteps, loudestOf } from './energy';
import { leadBefore } from './lead';
import { type Novelty, novelty, noveltyLayout } from './novelty';
import { type NoveltyPeak, pickPeaks } from './pick';
import { betterBy, surroundings } from './placement';
import { PLACEMENT_WEIGHTS } from './placement-weights';
import { type RefinedStart, refineStart } from './refine';

/**
 * A possible onset, found once on the server down to the lowest sensitivity; the browser only selects among them. All
 * positions are frames of the recording.
 */
export interface Candidate {
  /** The start, placed on the samples. */
  readonly frame: number;
  /** 0..1, the strength of evidence for a new sound; compared with the sensitivity. */
  readonly strength: number;
  /** Where the sound would have died away if nothing followed. */
  readonly decayEnd: number;
  /** Loudest sample of the 50 ms after the start, 0..1. */
  readonly peak: number;
  /** Its strength in the band under 250 Hz, between, and over 3 kHz. */
  readonly low: number;
  readonly mid: number;
  readonly high: number;
  /** Whether it is a click of a worn record and no struck sound. */
  readonly click: boolean;
}

/** Version of the method, stored with analyses, so that a better method can be applied later. */
export const DETECTION_VERSION = 4;

const LEAST_PROMINENCE = 0.008;
/** A start that rises this much comes out of near silence, and is exact. */
const EXACT_RISE_DB = 45;
const SAME_ONSET_MS = 12;
/** A start this weak must be 6 dB (in power) over the room tone at the beginning of the recording. */
const EDGE_MS = 30;
const OVER_ROOM = 4;
/** Room tone is assumed only where it is 30 dB (in power) under the loudest 2 ms. */
const ROOM_UNDER_PEAK = 1e-3;
/** Padding before the first frame: longer than any step of the method looks back. */
const LEAD_S = 0.2;
/** Longer than the window and the mean that a peak is compared with. */
const SURROUNDINGS_S = 0.5;
/** Longest tail that is followed, in seconds. */
const LONGEST_TAIL_S = 12;

/**
 * Finds every candidate onset of one channel. Two steps: peaks of a novelty curve, then the placement of each start on
 * the samples; each step's function names its source. `reference` is the peak amplitude of the whole recording where
 * `samples` is a part of it. Onsets are searched before frame `until`; later frames only show where sounds die away.
 * `begins`: the recording begins with the first of `samples`; a sound running there starts at frame 0.
 */
export function detectOnsets(
  samples: Float32Array,
  sampleRate: number,
  reference = peakOf([samples]),
  until = samples.length,
  begins = true,
): Candidate[] {
  if (reference === 0) return [];
  const energy = energySteps(samples, sampleRate);
  const { room, endOf } = tailsOf(energy);
  if (!begins) return candidatesIn(samples, sampleRate, reference, until, endOf);
  const loudest = energy.power.reduce((a, b) => Math.max(a, b), 0);
  // A whole number of hops, so that the curve is the same as without it.
  const { hop } = noveltyLayout(sampleRate);
  const lead = hop * Math.ceil((LEAD_S * sampleRate) / hop);
  const led = new Float32Array(lead + samples.length);
  led.set(leadBefore(samples, sampleRate, lead, room < loudest * ROOM_UNDER_PEAK ? room : 0));
  led.set(samples, lead);
  const found = candidatesIn(
    led,
    sampleRate,
    reference,
    lead + until,
    (start, limit) => lead + endOf(Math.max(0, start - lead), limit - lead),
  );
  return found.flatMap((candidate) => {
    const frame = Math.max(0, candidate.frame - lead);
    // Before the first frame there is no level to rise from: a sound there must stand out of the room tone.
    const edge = Math.round((EDGE_MS * sampleRate) / 1000);
    if (frame < edge && !standsOut(samples, frame, edge, room)) return [];
    return [{ ...candidate, frame, decayEnd: candidate.decayEnd - lead }];
  });
}

/** The candidates in `samples` after frame 0; `tailEnd` gives where a sound that starts at a frame has died away. */
function candidatesIn(
  samples: Float32Array,
  sampleRate: number,
  reference: number,
  until: number,
  tailEnd: (start: number, limit: number) => number,
): Candidate[] {
  // A little further, because peaks are compared with their surroundings.
  const heard = samples.subarray(0, until + Math.round(SURROUNDINGS_S * sampleRate));
  const curve = novelty(heard, sampleRate, reference);
  const ms = sampleRate / 1000;
  const found: Candidate[] = [];
  for (const peak of peaksOf(curve, sampleRate)) {
    const { from, to } = spanOf(peak, curve, sampleRate);
    const refined = refineStart(samples, sampleRate, from, to);
    const frame = placed(samples, sampleRate, refined);
    const { riseDb } = refined;
    const strength = strengthOf(peak.prominence, peak.height, riseDb);
    const inBand = (band: Float32Array) => strengthOf(highest(band, peak.hop), 0, riseDb);
    const previous = found.at(-1);
    const limit = Math.min(samples.length, frame + LONGEST_TAIL_S * sampleRate);
    const candidate: Candidate = {
      frame,
      strength,
      decayEnd: tailEnd(frame, limit),
      peak: loudestOf(samples.subarray(frame, Math.ceil(frame + 50 * ms))),
      low: inBand(curve.low),
      mid: inBand(curve.mid),
      high: inBand(curve.high),
      click: isClick(samples, sampleRate, frame),
    };
    if (previous && frame - previous.frame < SAME_ONSET_MS * ms) {
      if (strength > previous.strength) found[found.length - 1] = candidate;
    } else found.push(candidate);
  }
  return found;
}

/** The spans in which starts are searched, one for each peak of the novelty curve. */
export function detectPeaks(samples: Float32Array, sampleRate: number): { from: number; to: number }[] {
  const curve = novelty(samples, sampleRate, peakOf([samples]));
  return peaksOf(curve, sampleRate).map((peak) => spanOf(peak, curve, sampleRate));
}

function peaksOf(curve: Novelty, sampleRate: number): NoveltyPeak[] {
  const perSecond = sampleRate / curve.hop;
  return pickPeaks(curve.all, {
    reach: Math.max(1, Math.round(0.012 * perSecond)),
    before: Math.round(0.1 * perSecond),
    after: Math.round(0.07 * perSecond),
    least: LEAST_PROMINENCE,
  });
}

function spanOf(peak: NoveltyPeak, curve: Novelty, sampleRate: number): { from: number; to: number } {
  const centre = peak.hop * curve.hop;
  const ms = sampleRate / 1000;
  return { from: Math.round(centre - 14 * ms), to: Math.round(centre + 6 * ms) };
}

/** The start, from several cues together. */
function placed(samples: Float32Array, sampleRate: number, start: RefinedStart): number {
  const { frame, riseDb, residual, residualStart } = start;
  const ms = sampleRate / 1000;
  const by = betterBy(surroundings(samples, sampleRate, frame, residual, residualStart), PLACEMENT_WEIGHTS);
  const better = Math.max(0, Math.min(samples.length - 1, frame + Math.round(by * ms)));
  return riseDb >= EXACT_RISE_DB && better > frame
    ? firstSign(samples, frame, better, Math.round(SIGN_MS * ms))
    : better;
}

/** The sound's peak is searched within this time after its start. */
const SIGN_MS = 8;

/** The first frame of [from, to) louder than 40 dB under the peak of the sound; `to` where there is none. */
function firstSign(samples: Float32Array, from: number, to: number, sound: number): number {
  const least = 0.01 * loudestOf(samples.subarray(from, to + sound));
  for (let i = from; i < to; i++) if (Math.abs(samples[i] as number) > least) return i;
  return to;
}

/** Whether the loudest 5 ms or so after a frame are 6 dB over the room tone's power. */
function standsOut(samples: Float32Array, frame: number, length: number, room: number): boolean {
  const part = Math.max(1, Math.round(length / 6));
  for (let start = frame; start < frame + length; start += part) {
    const end = Math.min(samples.length, start + part);
    let sum = 0;
    for (let i = start; i < end; i++) sum += (samples[i] as number) ** 2;
    if (sum / part > OVER_ROOM * room) return true;
  }
  return false;
}

/** A band may rise a hop before or after the full spectrum. */
function highest(curve: Float32Array, hop: number): number {
  return Math.max(curve[hop - 1] ?? 0, curve[hop] ?? 0, curve[hop + 1] ?? 0);
}

/** A strength in 0..1 from the height of the novelty peak and the rise on the samples. */
function strengthOf(prominence: number, height: number, riseDb: number): number {
  const novelty = prominence + 0.1 * height;
  const rise = Math.min(1, Math.max(0, riseDb / 20));
  return 1 - Math.exp(-novelty * 4 * (0.3 + 0.7 * rise));
}
