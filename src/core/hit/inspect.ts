import { rootOf } from '../describe/root';
import { type Cancelled, cancelledBands } from '../describe/spectrum';
import { measured } from '../loudness/measured';
import { type Audio, frameCount, peakOf, toMono } from '../signal/audio';
import { toDb } from '../signal/units';

/** Figures of a hit as it sounds; -Infinity for levels of silence. */
export interface HitFigures {
  readonly frames: number;
  readonly truePeakDbtp: number;
  readonly lufs: number;
  readonly noiseDbfs: number;
  readonly rootHz: number | null;
  /** How clear the root is, 0..1; 0 where there is none. */
  readonly rootClarity: number;
  /** From the loudest moment until the sound stays 40 dB under it, in ms. */
  readonly tailMs: number;
  /** Level of the last moment, in dBFS: what stops there clicks. */
  readonly endDbfs: number;
  /** The bands that cancel in mono. */
  readonly cancelled: readonly Cancelled[];
}

/** Measures a hit's audio as it is played with a linear gain. */
export function figuresOf(audio: Audio, gain: number): HitFigures {
  const { truePeak, momentaryLufs, noiseDbfs } = measured(audio);
  const gainDb = toDb(gain);
  const root = rootOf(toMono(audio), audio.sampleRate);
  return {
    frames: frameCount(audio),
    truePeakDbtp: toDb(truePeak) + gainDb,
    lufs: momentaryLufs + gainDb,
    noiseDbfs: noiseDbfs + gainDb,
    rootHz: root?.hz ?? null,
    rootClarity: root?.clarity ?? 0,
    tailMs: tailMs(audio),
    endDbfs: toDb(peakOf(audio.channels, Math.max(0, frameCount(audio) - END_FRAMES))) + gainDb,
    cancelled: cancelledBands(audio),
  };
}

/** A sound that ends at a higher level than this, in dBFS, is cut off with an audible click (common practice). */
export const CLICKS_DBFS = -54;
const END_FRAMES = 8;
const TAIL_DB = 40;
const STEP_MS = 5;

function tailMs({ sampleRate, channels }: Audio): number {
  const size = Math.max(1, Math.round((STEP_MS / 1000) * sampleRate));
  const frames = channels[0]?.length ?? 0;
  const levels = Array.from({ length: Math.ceil(frames / size) }, (_, n) => peakOf(channels, n * size, (n + 1) * size));
  const loudest = levels.reduce((most, x) => Math.max(most, x), 0);
  if (loudest === 0) return 0;
  const last = levels.findLastIndex((x) => x > loudest * 10 ** (-TAIL_DB / 20));
  return (last + 1 - levels.indexOf(loudest)) * STEP_MS;
}
