import { spectraOf } from '../kernel/spectra';
import { BROAD_BANDS, BROAD_EDGES_HZ } from './bands';

/** Start and length in seconds of the stretches analysed: the strike, and what rings after it. */
const STRETCHES = [
  { startS: 0, lengthS: 0.0464 },
  { startS: 0.06, lengthS: 0.0929 },
] as const;
export const TEXTURE_FIGURES = STRETCHES.length * BROAD_BANDS;
/** Value for a stretch that the sound is too short for: between noise and tones. */
const UNKNOWN = -1.2;
const LEAST_S = 0.009;
const LEAST_POWER = 1e-16;

/**
 * Log spectral flatness (geometric over arithmetic mean of powers: J. Johnston, "Transform coding of audio signals
 * using perceptual noise criteria", IEEE J. Selected Areas in Communications 6, 1988) of each band of each stretch.
 * Noise is about -0.25, single partials far below, the dense partials of hats and cymbals between.
 */
export function textureOf(samples: Float32Array, sampleRate: number): Float32Array {
  const out = new Float32Array(TEXTURE_FIGURES).fill(UNKNOWN);
  for (const [n, { startS, lengthS }] of STRETCHES.entries()) {
    const start = Math.round(startS * sampleRate);
    if (samples.length - start < LEAST_S * sampleRate) continue;
    const size = 2 ** Math.round(Math.log2(lengthS * sampleRate));
    spectraOf(size).of(samples.subarray(start, start + size), (pair) => {
      const [magnitudes] = pair(0, 0);
      for (let band = 0; band < BROAD_BANDS; band++)
        out[n * BROAD_BANDS + band] = flatness(magnitudes, band, sampleRate / size);
    });
  }
  return out;
}

function flatness(magnitudes: Float32Array, band: number, bin: number): number {
  const first = Math.round((BROAD_EDGES_HZ[band] as number) / bin);
  const last = Math.min(magnitudes.length, Math.round((BROAD_EDGES_HZ[band + 1] as number) / bin));
  if (last - first < 2) return UNKNOWN;
  let [sum, logs] = [0, 0];
  for (let k = first; k < last; k++) {
    const power = (magnitudes[k] as number) ** 2 + LEAST_POWER;
    sum += power;
    logs += Math.log10(power);
  }
  return logs / (last - first) - Math.log10(sum / (last - first));
}
