import { momentaryLufs } from '../describe/loudness';
import { rootOf } from '../describe/root';
import { type Audio, frameCount, peakOf, toMono } from '../signal/audio';
import { toDb } from '../signal/units';
import { type Hit, MOST_DC } from './model';

/** Peak that levelling by peak brings a hit to, and the loudness that levelling by loudness does (project's choice). */
export const PEAK_TARGET_DBFS = -1;
export const LOUDNESS_TARGET_LUFS = -18;
/** Levelling by loudness never lifts a peak above this. */
const HIGHEST_PEAK_DBFS = -0.5;
const MOST_GAIN_DB = 60;

export type Ticks = ReadonlySet<'dc' | 'ends' | 'peak' | 'loudness' | 'root'>;
export type Prepared = Pick<Hit, 'startFrame' | 'endFrame' | 'gainDb' | 'dc' | 'rootHz'>;

/**
 * What preparing a hit would set: the recording's constant offset off, silence off its ends, a level, its root. Nothing
 * of the sound is changed; the figures are kept with the hit and can be set back. `audio` is the hit's own stretch,
 * unprepared; `channelMeans` are the recording's.
 */
export function prepareHit(hit: Hit, audio: Audio, ticks: Ticks, channelMeans: readonly number[]): Prepared {
  const dc = ticks.has('dc') ? significant(channelMeans) : hit.dc;
  const clean = withoutDc(audio, dc);
  const [from, to] = ticks.has('ends') ? soundingEnds(toMono(clean), audio.sampleRate) : [0, frameCount(audio)];
  const kept = { sampleRate: audio.sampleRate, channels: clean.channels.map((c) => c.subarray(from, to)) };
  return {
    startFrame: hit.startFrame + from,
    endFrame: hit.startFrame + to,
    dc,
    gainDb: levelGain(kept, ticks) ?? hit.gainDb,
    rootHz: ticks.has('root') ? (rootOf(toMono(kept), kept.sampleRate)?.hz ?? hit.rootHz) : hit.rootHz,
  };
}

/** Offsets under a step of 16 bits are not worth taking off, those past all bounds are no offsets. */
function significant(means: readonly number[]): number[] {
  const largest = Math.max(0, ...means.map(Math.abs));
  return largest > 1 / 32768 && largest <= MOST_DC ? [...means] : [];
}

/** Audio with a constant taken off each channel; itself where there is none. */
export function withoutDc(audio: Audio, dc: readonly number[]): Audio {
  if (dc.length === 0) return audio;
  const channels = audio.channels.map((channel, c) => {
    const offset = dc[c] ?? 0;
    return channel.map((x) => x - offset);
  });
  return { sampleRate: audio.sampleRate, channels };
}

function levelGain(audio: Audio, ticks: Ticks): number | null {
  const peakDb = toDb(peakOf(audio.channels));
  if (!Number.isFinite(peakDb)) return null;
  let gain: number | null = null;
  if (ticks.has('peak')) gain = PEAK_TARGET_DBFS - peakDb;
  if (ticks.has('loudness')) gain = Math.min(LOUDNESS_TARGET_LUFS - momentaryLufs(audio), HIGHEST_PEAK_DBFS - peakDb);
  return gain === null ? null : Math.round(Math.max(-MOST_GAIN_DB, Math.min(MOST_GAIN_DB, gain)) * 100) / 100;
}

const STEP_S = 0.001;
/** A start is where the sound first comes within this of its peak; an end is followed further down. */
const START_UNDER_DB = 54;
const END_UNDER_DB = 66;
const AFTER_S = 0.01;

/** The frames [from, to) outside which the sound is silent against its own peak; all of it where nothing sounds. */
export function soundingEnds(samples: Float32Array, sampleRate: number): [number, number] {
  const peak = peakOf([samples]);
  if (peak === 0) return [0, samples.length];
  const startLevel = peak * 10 ** (-START_UNDER_DB / 20);
  let from = 0;
  while (Math.abs(samples[from] as number) < startLevel) from++;
  // Back over the rise to where it leaves the floor, at most a millisecond.
  const back = Math.max(0, from - Math.round(STEP_S * sampleRate));
  const endLevel = peak * 10 ** (-END_UNDER_DB / 20);
  let to = samples.length;
  while (to > from + 1 && Math.abs(samples[to - 1] as number) < endLevel) to--;
  let first = from;
  while (first > back && Math.abs(samples[first - 1] as number) > endLevel) first--;
  return [first, Math.min(samples.length, to + Math.round(AFTER_S * sampleRate))];
}
