import { SPECTRUM_HZ, spectrumOf } from '../describe/spectrum';
import { withBandGains } from '../filter/crossover';
import type { Audio } from '../signal/audio';

/** Edges lie at least this factor apart, and within these limits in hertz. */
const LEAST_APART = 1.6;
const [LOWEST_HZ, HIGHEST_HZ] = [50, 8000];

/** How the spectrum is shared: edges in rising order, and for each layer the gain of each band, linear. */
export interface Shared {
  readonly edgesHz: readonly number[];
  readonly gains: readonly (readonly number[])[];
}

/**
 * Shares the spectrum among layers: each gets the band in which it is strongest against the others, in the order of where the
 * middle of its power lies. The edge between two neighbours is where their spectra cross.
 */
export function proposedShares(audios: readonly Audio[]): Shared {
  const spectra = audios.map((audio) => spectrumOf(audio, 1));
  const middles = spectra.map(middleOf);
  const order = [...audios.keys()].sort((a, b) => (middles[a] as number) - (middles[b] as number));
  const edgesHz: number[] = [];
  for (let i = 0; i + 1 < order.length; i++) {
    const [low, high] = [order[i] as number, order[i + 1] as number];
    const crossing = crossingOf(spectra[low] as Float32Array, spectra[high] as Float32Array, [
      middles[low] as number,
      middles[high] as number,
    ]);
    const least = (edgesHz.at(-1) ?? LOWEST_HZ / LEAST_APART) * LEAST_APART;
    edgesHz.push(Math.round(Math.max(least, Math.min(HIGHEST_HZ, crossing))));
  }
  const gains = audios.map((_, layer) => order.map((own) => (own === layer ? 1 : 0)));
  return { edgesHz, gains };
}

/** The frequency with half of a spectrum's power on either side. */
function middleOf(spectrum: Float32Array): number {
  const powers = Array.from(spectrum, (db) => 10 ** (db / 10));
  const half = powers.reduce((a, b) => a + b, 0) / 2;
  let sum = 0;
  const at = powers.findIndex((power) => {
    sum += power;
    return sum >= half;
  });
  return SPECTRUM_HZ[Math.max(0, at)] as number;
}

/** Where the higher one begins to be the stronger, between their middles; the middle of these where it never does. */
function crossingOf(low: Float32Array, high: Float32Array, [from, to]: readonly [number, number]): number {
  for (let b = 0; b < SPECTRUM_HZ.length; b++) {
    const hz = SPECTRUM_HZ[b] as number;
    if (hz < from || hz > to) continue;
    if ((high[b] as number) > (low[b] as number)) return hz;
  }
  return Math.sqrt(from * to);
}

/** A layer in the bands that it was given. */
export function sharedLayer(audio: Audio, { edgesHz, gains }: Shared, layer: number): Audio {
  if (edgesHz.length === 0) return audio;
  const own = gains[layer] ?? [];
  return {
    ...audio,
    channels: audio.channels.map((channel) => withBandGains(channel, edgesHz, own, audio.sampleRate)),
  };
}
