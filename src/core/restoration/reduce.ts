import { type Audio, toMono } from '../signal/audio';
import { fromDb } from '../signal/units';
import { findHum, fitHum, withoutHum } from './hum';
import { learnNoise, type NoiseReduction, type NoiseSpectrum, withoutNoise } from './noise';

/** What a room sounds like. */
export interface RoomTone {
  readonly spectrum: NoiseSpectrum;
  /** The hum in it, and its spectrum without that; null where it has none. */
  readonly hum: { readonly hz: number; readonly rest: NoiseSpectrum } | null;
}

/** Blocks whose power tells whether the room is heard alone: a whole period of 50 Hz. */
const BLOCK_S = 0.02;
/** A block with more power than so many times the room's is not the room alone. */
const MOST_POWER = 2;

/** Learns a room's tone from a stretch in which nothing else is heard; null where it is too short. */
export function learnRoomTone(audio: Audio): RoomTone | null {
  const spectrum = learnNoise(audio);
  if (!spectrum) return null;
  const { sampleRate } = audio;
  const hz = findHum(toMono(audio), sampleRate);
  if (hz === null) return { spectrum, hum: null };
  const channels = audio.channels.map((x) =>
    withoutHum(
      x,
      fitHum(x, hz, sampleRate, () => true),
      sampleRate,
    ),
  );
  const rest = learnNoise({ sampleRate, channels });
  return { spectrum, hum: rest && { hz, rest } };
}

/**
 * A channel with its room's tone taken down. A hum is fitted where the room is heard alone and subtracted, since it is steady;
 * the rest is noise (see `withoutNoise`). Where the room is nowhere alone all of it counts as noise.
 */
export function withoutRoom(
  x: Float32Array,
  room: RoomTone,
  onsets: readonly number[],
  settings: NoiseReduction,
  sampleRate: number,
): Float32Array {
  const { spectrum, hum } = room;
  if (hum) {
    const level = spectrum.reduce((sum, power) => sum + power, 0) / spectrum.length;
    const harmonics = fitHum(x, hum.hz, sampleRate, quietIn(x, MOST_POWER * level, sampleRate));
    if (harmonics.length > 0) {
      const still = withoutHum(x, harmonics, sampleRate, 1 - fromDb(-settings.amountDb));
      return withoutNoise(still, hum.rest, onsets, settings, sampleRate);
    }
  }
  return withoutNoise(x, spectrum, onsets, settings, sampleRate);
}

/** Whether a stretch lies in a block that has less power than `most`, as those on either side of it. */
function quietIn(x: Float32Array, most: number, sampleRate: number): (from: number) => boolean {
  const size = Math.max(1, Math.round(BLOCK_S * sampleRate));
  const isQuiet = Array.from({ length: Math.ceil(x.length / size) }, (_, n) => {
    let sum = 0;
    const end = Math.min(x.length, (n + 1) * size);
    for (let i = n * size; i < end; i++) sum += (x[i] as number) ** 2;
    return sum < most * (end - n * size);
  });
  return (from) => {
    const n = Math.floor(from / size);
    return Boolean(isQuiet[n]) && isQuiet[n - 1] !== false && isQuiet[n + 1] !== false;
  };
}
