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

/** A sound up to this length, as a single hit, has one fit: it needs all its quiet moments. */
const ONE_FIT_S = 4;
/**
 * In a longer one the hum is fitted anew in each such stretch, since mains drift and the frequency is known to some hundredths of a hertz only; the
 * fits of neighbours are blended over a short time.
 */
const SEGMENT_S = 1;
const BLEND_S = 0.05;

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
 * the rest is noise (see `withoutNoise`). Where the room is nowhere heard alone, the hum counts as noise too.
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
    const share = 1 - fromDb(-settings.amountDb);
    const { still, everywhere } = humTakenOut(x, hum.hz, MOST_POWER * level, share, sampleRate);
    // Where a hum could not be fitted it is still there, and counts as noise.
    return withoutNoise(still, everywhere ? hum.rest : spectrum, onsets, settings, sampleRate);
  }
  return withoutNoise(x, spectrum, onsets, settings, sampleRate);
}

/** A channel with a share of its hum taken out, and whether the hum could be fitted in all of it. */
function humTakenOut(
  x: Float32Array,
  hz: number,
  mostPower: number,
  share: number,
  sampleRate: number,
): { readonly still: Float32Array; readonly everywhere: boolean } {
  const seconds = x.length / sampleRate;
  const count = seconds <= ONE_FIT_S ? 1 : Math.round(seconds / SEGMENT_S);
  const size = Math.ceil(x.length / count);
  const blend = Math.round(BLEND_S * sampleRate);
  const out = new Float32Array(x.length);
  let everywhere = true;
  for (let n = 0; n < count; n++) {
    const start = Math.max(0, n * size - blend);
    const end = Math.min(x.length, (n + 1) * size);
    const part = x.subarray(start, end);
    const harmonics = fitHum(part, hz, sampleRate, quietIn(part, mostPower, sampleRate));
    if (harmonics.length === 0) everywhere = false;
    const still = withoutHum(part, harmonics, sampleRate, share);
    const shared = n * size - start;
    for (let i = 0; i < still.length; i++) {
      const own = i < shared ? i / shared : 1;
      out[start + i] = own * (still[i] as number) + (1 - own) * (out[start + i] as number);
    }
  }
  return { still: out, everywhere };
}

/** Tells of a frame whether its block of 20 ms, and the blocks before and after it, have a mean square under `most`. */
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
