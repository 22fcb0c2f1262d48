import { EDGE_WEIGHTS } from './edge-weights';
import { FIRST_PLACE_AFTER, offsetMs, PLACES, placeFeatures, placeScores, surroundings } from './placement';

/** The places before the first frame are left out. */
export const FIRST_EDGE_PLACE = FIRST_PLACE_AFTER;
/** An attack closer to frame 0 than this, in ms, begins with the recording. */
/** If the first millisecond has less than four times the power of the room tone, the attack comes later. */
const QUIET_MS = 1;
const QUIET_PLACES = 4;
const NEAR_ROOM = 4;
/** The share of the background that certainly holds nothing of the attack. */
const SURE_SHARE = 0.7;
/** A little more than the features need, in seconds. */
const EDGE_S = 0.02;
const LEAST_BACKGROUND_MS = 1.2;

/**
 * `length` samples to prepend to a recording, so that a first sound is found and placed like any other. Silence where
 * the recording begins with an attack: the sound then starts at frame 0. Where it begins with a background (room tone,
 * the tail of an earlier sound) and the attack comes a little later, that background, mirrored repeatedly at frame 0,
 * so that its own beginning is no onset. `room` is the power of the room tone, 0 where unknown.
 */
export function leadBefore(samples: Float32Array, sampleRate: number, length: number, room: number): Float32Array {
  const lead = new Float32Array(length);
  const background = Math.floor(SURE_SHARE * backgroundFrames(samples, sampleRate, room));
  for (let i = 0; background > 0 && i < length; i++) {
    const place = i % (2 * background);
    lead[length - 1 - i] = samples[place < background ? place : 2 * background - 1 - place] as number;
  }
  return lead;
}

/**
 * Frames of background from frame 0 until the first attack; 0 where the recording begins with the attack itself, or
 * where none comes within 8 ms. The most likely place by the conditional logit of `placement.ts`, with weights trained
 * on recordings cut shortly before a stroke (`npm run train-edges`).
 */
export function backgroundFrames(samples: Float32Array, sampleRate: number, room: number): number {
  const scores = placeScores(edgeSurroundings(samples, sampleRate), EDGE_WEIGHTS);
  // A recording that begins at the level of its room tone does not begin with an attack.
  const quiet = powerOf(samples, Math.round((QUIET_MS * sampleRate) / 1000)) < NEAR_ROOM * room;
  const first = quiet ? FIRST_EDGE_PLACE + QUIET_PLACES : FIRST_EDGE_PLACE;
  let best = first;
  for (let place = best + 1; place < PLACES; place++)
    if ((scores[place] as number) > (scores[best] as number)) best = place;
  const ms = offsetMs(best);
  return ms < LEAST_BACKGROUND_MS ? 0 : Math.round((ms * sampleRate) / 1000);
}

function powerOf(samples: Float32Array, frames: number): number {
  let sum = 0;
  for (let i = 0; i < frames; i++) sum += (samples[i] ?? 0) ** 2;
  return sum / frames;
}

/** The features of all places around frame 0, for training. */
export function edgeFeatures(samples: Float32Array, sampleRate: number): Float32Array {
  return placeFeatures(edgeSurroundings(samples, sampleRate));
}

/** There is nothing before to whiten with: the first difference stands in for the whitened signal. */
function edgeSurroundings(samples: Float32Array, sampleRate: number) {
  const heard = samples.subarray(0, Math.round(EDGE_S * sampleRate));
  const change = Float64Array.from(heard, (x, i) => (i === 0 ? 0 : x - (heard[i - 1] as number)));
  return surroundings(heard, sampleRate, 0, change, 0);
}
