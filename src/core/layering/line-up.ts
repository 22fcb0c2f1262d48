import { filtered } from '../filter/biquad';
import { butterworth } from '../filter/cookbook';
import { Fft } from '../kernel/fft';
import { peakOf } from '../signal/audio';

/** The attack is where the sound first reaches this share of its highest peak nearby, followed back to where it rises. */
const REACHED = 0.25;
/** Share of the peak under which it has not begun yet; a noise before it counts instead where that is louder. */
const BEGUN = 0.01;
const NOISE_FACTOR = 3;
/** How far back from where it was reached a rise is followed, in seconds. */
const MOST_RISE_S = 0.02;
/** A zero crossing inside the rise is no beginning: so long must the sound have been low, in seconds. */
const LOW_FOR_S = 0.0015;

/**
 * The frame in which the strongest attack of a sound begins: where it rises out of what lies before it. 0 for silence.
 */
export function attackOf(samples: Float32Array, sampleRate: number): number {
  const peak = peakOf([samples]);
  if (peak === 0) return 0;
  const reached = samples.findIndex((x) => Math.abs(x) >= REACHED * peak);
  const least = Math.max(0, reached - Math.round(MOST_RISE_S * sampleRate));
  const before = peakOf([samples], 0, Math.max(0, least));
  const floor = Math.max(BEGUN * peak, NOISE_FACTOR * before);
  const lowFor = Math.max(1, Math.round(LOW_FOR_S * sampleRate));
  let begun = reached;
  let low = 0;
  for (let i = reached; i >= least && low < lowFor; i--) {
    if (Math.abs(samples[i] as number) > floor) {
      begun = i;
      low = 0;
    } else low++;
  }
  return begun;
}

/** Sounds are compared under this frequency, in hertz: where layers add or cancel most. */
const LOW_HZ = 200;

export interface BestLag {
  /** Frames by which the second sound is to be moved so that it lies on the first; negative is earlier. */
  readonly frames: number;
  /** Correlation there, -1 to 1: negative where the second is turned. */
  readonly likeness: number;
}

/**
 * The move within `limit` frames that brings the lows of a sound onto those of another: the highest magnitude of the
 * normalised cross-correlation of what lies under 200 Hz.
 */
export function bestLag(fixed: Float32Array, moved: Float32Array, limit: number, sampleRate: number): BestLag {
  const low = (x: Float32Array) => filtered(x, butterworth(1, LOW_HZ, 4, sampleRate));
  const [a, b] = [low(fixed), low(moved)];
  const size = 2 ** Math.ceil(Math.log2(Math.max(16, a.length + b.length)));
  const fft = new Fft(size);
  const spectrum = (x: Float32Array) => {
    const frame = new Float32Array(size);
    frame.set(x);
    return fft.forward(frame);
  };
  const [fa, fb] = [spectrum(a), spectrum(b)];
  const bins = size / 2 + 1;
  const [re, im] = [new Float32Array(bins), new Float32Array(bins)];
  for (let k = 0; k < bins; k++) {
    const [ar, ai, br, bi] = [fa.re[k], fa.im[k], fb.re[k], fb.im[k]] as [number, number, number, number];
    re[k] = ar * br + ai * bi;
    im[k] = ai * br - ar * bi;
  }
  const correlation = fft.inverse(re, im);
  const energy = (x: Float32Array) => x.reduce((sum, v) => sum + v * v, 0);
  const scale = Math.sqrt(energy(a) * energy(b));
  if (scale === 0) return { frames: 0, likeness: 0 };
  let best: BestLag = { frames: 0, likeness: 0 };
  for (let lag = -limit; lag <= limit; lag++) {
    const likeness = (correlation[(lag + size) % size] as number) / scale;
    if (Math.abs(likeness) > Math.abs(best.likeness) + 1e-7) best = { frames: lag, likeness };
  }
  return best;
}
