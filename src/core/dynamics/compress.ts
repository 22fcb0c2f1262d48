import { type Audio, frameCount } from '../signal/audio';
import { poleOf, rectified, smoothedPower } from './followers';

export interface Compression {
  readonly thresholdDb: number;
  /** Decibels in for one decibel out, over the threshold; infinity limits. */
  readonly ratio: number;
  /** Width in dB over which the ratio sets in. */
  readonly kneeDb: number;
  /** Time constants in ms: the change of gain has come within 1/e of its goal. */
  readonly attackMs: number;
  readonly releaseMs: number;
  /** What comes is heeded so much earlier, in ms. */
  readonly lookAheadMs: number;
  /** The level followed: the largest sample, or the root mean square over 5 ms. */
  readonly by: 'peak' | 'rms';
}

const RMS_MS = 5;
const SILENCE_DB = -200;

/** The static curve: change of level in dB, never over 0, for a level in dB. */
export function compressionDb(levelDb: number, { thresholdDb, ratio, kneeDb }: Compression): number {
  const over = levelDb - thresholdDb;
  const slope = 1 / ratio - 1;
  if (2 * over <= -kneeDb) return 0;
  if (2 * over < kneeDb) return (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
  return slope * over;
}

/**
 * The gain of a compressor in dB, a value a frame, channels linked: the level in dB, the static curve, and a smooth
 * branching one-pole filter of the change of gain (D. Giannoulis, M. Massberg, J. Reiss, "Digital dynamic range compressor
 * design", J. Audio Eng. Soc. 60, 2012).
 */
export function compressorGainDb(audio: Audio, settings: Compression): Float32Array {
  const { sampleRate } = audio;
  const levels = settings.by === 'peak' ? rectified(audio) : smoothedPower(audio, RMS_MS).map(Math.sqrt);
  const attack = poleOf(settings.attackMs, sampleRate);
  const release = poleOf(settings.releaseMs, sampleRate);
  const ahead = Math.round((settings.lookAheadMs / 1000) * sampleRate);
  const out = new Float32Array(frameCount(audio));
  let gain = 0;
  for (let i = -ahead; i < out.length; i++) {
    const level = levels[Math.min(out.length - 1, i + ahead)] as number;
    const goal = compressionDb(level > 0 ? Math.max(SILENCE_DB, 20 * Math.log10(level)) : SILENCE_DB, settings);
    const pole = goal < gain ? attack : release;
    gain = pole * gain + (1 - pole) * goal;
    if (i >= 0) out[i] = gain;
  }
  return out;
}
