import { spectraOf } from '../kernel/spectra';

/** Features of a single sound, for checking its name. */
export interface Features {
  /** Spectral centroid, in hertz. */
  readonly centroidHz: number;
  /** Share of the power under 250 Hz. */
  readonly lowShare: number;
  /** From the peak until the level stays 40 dB under it, in seconds. */
  readonly fall40Seconds: number;
}

const SIZE_S = 0.023;

/** Features of one channel of a single sound; null for silence. Spectra are summed over the whole sound. */
export function featuresOf(samples: Float32Array, sampleRate: number): Features | null {
  const size = 2 ** Math.round(Math.log2(SIZE_S * sampleRate));
  let weighted = 0;
  let low = 0;
  let all = 0;
  const levels: number[] = [];
  const take = (magnitudes: Float32Array) => {
    let sum = 0;
    for (let k = 1; k < magnitudes.length; k++) {
      // A full-scale sine has a magnitude near 0.5.
      const power = (2 * (magnitudes[k] as number)) ** 2;
      const hz = (k * sampleRate) / size;
      sum += power;
      weighted += power * hz;
      if (hz < 250) low += power;
    }
    all += sum;
    levels.push(sum);
  };
  spectraOf(size).of(samples, (pair) => {
    for (let at = -size / 2; at < samples.length; at += size) for (const one of pair(at, at + size / 2)) take(one);
  });
  if (all < 1e-15) return null;
  const peak = levels.indexOf(Math.max(...levels));
  let last = peak;
  for (let n = peak; n < levels.length; n++) if ((levels[n] as number) > (levels[peak] as number) * 1e-4) last = n;
  return {
    centroidHz: weighted / all,
    lowShare: low / all,
    fall40Seconds: ((last - peak) * size) / 2 / sampleRate,
  };
}
