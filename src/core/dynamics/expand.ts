import { type Audio, frameCount } from '../signal/audio';
import { poleOf, rectified, slidingMaximum, smoothedPower } from './followers';

export interface Expansion {
  /** Under the loudest moment of the sound, in dB: at any level a tail is gated alike. */
  readonly thresholdDb: number;
  /** Decibels out for one decibel in, under the threshold. */
  readonly ratio: number;
  /** The most that is taken off, in dB over 0. */
  readonly rangeDb: number;
  readonly attackMs: number;
  readonly holdMs: number;
  readonly releaseMs: number;
}

/** A level is the largest sample this far to either side: a low drum's swing is no silence. */
const SWING_MS = 8;

/** The static curve of a downward expander: change of level in dB, never over 0, for a level against the threshold. */
export function expansionDb(overDb: number, { ratio, rangeDb }: Expansion): number {
  return overDb >= 0 ? 0 : Math.max(-rangeDb, overDb * (ratio - 1));
}

/** The gain of a downward expander in dB, a value a frame, channels linked. */
export function expanderGainDb(audio: Audio, settings: Expansion): Float32Array {
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const near = Math.round((SWING_MS / 1000) * sampleRate);
  const hold = Math.round((settings.holdMs / 1000) * sampleRate);
  const levels = slidingMaximum(rectified(audio), near + hold, near);
  const loudest = levels.reduce((most, x) => Math.max(most, x), 0);
  const out = new Float32Array(frames);
  if (loudest === 0) return out;
  const opening = poleOf(settings.attackMs, sampleRate);
  const closing = poleOf(settings.releaseMs, sampleRate);
  const goalAt = (i: number) => {
    const level = levels[i] as number;
    const db = level > 0 ? 20 * Math.log10(level / loudest) : -400;
    return expansionDb(db - settings.thresholdDb, settings);
  };
  let gain = goalAt(0);
  for (let i = 0; i < frames; i++) {
    const goal = goalAt(i);
    const pole = goal > gain ? opening : closing;
    gain = pole * gain + (1 - pole) * goal;
    out[i] = gain;
  }
  return out;
}

export interface AttackAndBody {
  readonly attackDb: number;
  readonly bodyDb: number;
  /** How long what comes after a stroke still counts as its attack, in ms. */
  readonly attackMs: number;
}

/** The quick follower's time constant, in ms: a stroke is told by how far it stands over the slow one. */
const QUICK_MS = 2;
/** Standing this far over the slow follower, in dB, all is attack. */
const ALL_ATTACK_DB = 8;
const FLOOR = 1e-12;

/**
 * The gain that raises or lowers attacks and bodies, in dB, a value a frame: the level over 2 ms against that over the
 * time given tells how much of a moment is attack, whatever its level (the principle of a differential envelope: common
 * practice).
 */
export function attackAndBodyDb(audio: Audio, { attackDb, bodyDb, attackMs }: AttackAndBody): Float32Array {
  const quick = smoothedPower(audio, QUICK_MS);
  const slow = smoothedPower(audio, attackMs);
  const out = new Float32Array(quick.length);
  for (let i = 0; i < out.length; i++) {
    const db = 10 * Math.log10(((quick[i] as number) + FLOOR) / ((slow[i] as number) + FLOOR));
    const share = Math.max(0, Math.min(1, db / ALL_ATTACK_DB));
    out[i] = attackDb * share + bodyDb * (1 - share);
  }
  return out;
}
