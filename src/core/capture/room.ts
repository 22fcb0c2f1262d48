import { energySteps } from '../onset/energy';
import { levelDb, packLevels, quietestStretch } from '../onset/silence';
import { packNoise } from '../restoration/noise';
import { learnRoomTone } from '../restoration/reduce';
import { type Audio, cut, rmsOf, toMono } from '../signal/audio';
import { toDb } from '../signal/units';

/** Wanted length of a stretch of room tone, and the shortest that is useful, in seconds. */
const LONGEST_S = 0.8;
const LEAST_S = 0.15;
/** A room is quiet and steady: no 2 ms of it are so far over its level, and no half of it over the other. Strokes and tails are. */
const MOST_DB = -34;
const STEADY_DB = 10;
const HALVES_DB = 4;

/** A room heard alone: its level (RMS, dBFS), and its spectra as bytes; see `packNoise`. */
export interface HeardRoom {
  readonly levelDb: number;
  readonly spectrum: Uint8Array;
  readonly humHz: number | null;
  /** Without the hum; null where there is none. */
  readonly rest: Uint8Array | null;
}

/** The quietest stretch of some audio where that is steady, [start, end) in frames; null where none is. */
export function quietStretch(audio: Audio): { readonly start: number; readonly end: number } | null {
  const { sampleRate } = audio;
  const levels = packLevels(energySteps(toMono(audio), sampleRate));
  const found = quietestStretch(levels, LONGEST_S * sampleRate) ?? quietestStretch(levels, LEAST_S * sampleRate);
  if (!found) return null;
  const steps = levels.values.subarray(found.start / levels.step, found.end / levels.step);
  const level = meanDb(steps);
  const half = steps.length >> 1;
  const isSteady =
    steps.every((byte) => levelDb(byte) < level + STEADY_DB) &&
    Math.abs(meanDb(steps.subarray(0, half)) - meanDb(steps.subarray(half))) < HALVES_DB;
  return isSteady && level < MOST_DB ? found : null;
}

/** Level of some steps together, in dBFS. */
function meanDb(steps: Uint8Array): number {
  return 10 * Math.log10(steps.reduce((sum, byte) => sum + 10 ** (levelDb(byte) / 10), 0) / steps.length);
}

/** The room in some audio, from its quietest stretch; null where it is nowhere heard alone, or nothing is heard at all. */
export function hearRoom(audio: Audio): HeardRoom | null {
  const quiet = quietStretch(audio);
  if (!quiet) return null;
  const stretch = cut(audio, quiet.start, quiet.end);
  const tone = learnRoomTone(stretch);
  if (!tone) return null;
  return {
    levelDb: toDb(rmsOf(stretch.channels)),
    spectrum: packNoise(tone.spectrum),
    humHz: tone.hum?.hz ?? null,
    rest: tone.hum ? packNoise(tone.hum.rest) : null,
  };
}
