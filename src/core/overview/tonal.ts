import { spectraOf } from '../kernel/spectra';
import { medianFilter, RunningMedians } from './running-median';

/** Share of held tones, a value a hop. Hop n is centred at frame `n * hop`. */
export interface TonalHops {
  readonly hop: number;
  /** Power of all bins, and of those that belong to held tones. */
  readonly power: Float32Array;
  readonly tonal: Float32Array;
}

const WINDOW_S = 0.093;
const LOWEST_HZ = 160;
const HIGHEST_HZ = 5000;
/** Hops that a tone must last: the median needs half of a third of a second. */
const TIME_KERNEL = 7;
/** About 180 Hz: wider than a partial, narrower than the spread of a struck sound. */
const BIN_KERNEL = 17;
/** Factor by which a bin's held part must exceed its struck part to count as a tone. */
const MARGIN = 3;

/**
 * Separates held tones from the rest: medians along time keep what is held, medians along frequency what is struck.
 *
 * Sources: D. FitzGerald, "Harmonic/percussive separation using median filtering", DAFx-10 (2010); the margin, which
 * leaves noise to neither part, from J. Driedger, M. Müller, S. Disch, "Extending harmonic-percussive separation of
 * audio signals", ISMIR 2014.
 *
 * `samples` is one channel. Bins from 160 Hz to 5 kHz are used: below lie kicks that ring like tones.
 */
export function tonalHops(samples: Float32Array, sampleRate: number): TonalHops {
  const size = 2 ** Math.round(Math.log2(WINDOW_S * sampleRate));
  const hop = size / 2;
  const binHz = sampleRate / size;
  const first = Math.ceil(LOWEST_HZ / binHz);
  const count = Math.min(Math.floor(HIGHEST_HZ / binHz), size / 2) - first + 1;
  const hops = Math.ceil(samples.length / hop);
  const power = new Float32Array(hops);
  const tonal = new Float32Array(hops);
  const lag = (TIME_KERNEL - 1) / 2;
  const rows = Array.from({ length: lag + 1 }, () => new Float32Array(count));
  const medians = new RunningMedians(count, TIME_KERNEL);
  const held = new Float32Array(count);
  const struck = new Float32Array(count);

  const take = (n: number, magnitudes: Float32Array) => {
    const row = rows[n % rows.length] as Float32Array;
    for (let k = 0; k < count; k++) row[k] = 2 * (magnitudes[first + k] as number);
    medians.push(row, held);
    const centre = n - lag;
    if (centre < 0 || centre >= hops) return;
    const middle = rows[centre % rows.length] as Float32Array;
    medianFilter(middle, BIN_KERNEL, struck);
    let all = 0;
    let tones = 0;
    for (let k = 0; k < count; k++) {
      const x = (middle[k] as number) ** 2;
      all += x;
      if ((held[k] as number) > MARGIN * (struck[k] as number)) tones += Math.min(x, (held[k] as number) ** 2);
    }
    power[centre] = all;
    tonal[centre] = tones;
  };

  spectraOf(size).of(samples, (pair) => {
    for (let n = 0; n < hops + lag; n += 2) {
      const start = n * hop - size / 2;
      const [even, odd] = pair(start, start + hop);
      take(n, even);
      take(n + 1, odd);
    }
  });
  return { hop, power, tonal };
}
