import { truePeakOf, truePeaks } from '../resampling/oversampling';
import { type Audio, frameCount } from '../signal/audio';
import { fromDb } from '../signal/units';
import { poleOf, shaped, slidingMinimum } from './followers';

export interface Limiting {
  readonly ceilingDbtp: number;
  readonly releaseMs: number;
}

/** The gain goes down over this time before a peak, in ms, in an even curve. */
const LOOK_AHEAD_MS = 1.5;
const MOST_ROUNDS = 6;
/** The first round aims 0.03 dB lower, so that hardly ever a second one is needed. */
const MARGIN = 1.0035;

/**
 * Keeps the true peak under a ceiling: the gain each frame needs by its true peak (ITU-R BS.1770-5, annex 2), the least of
 * those near it, evened by two running means as long, so that it is there when the peak is (P. Hämäläinen, "Smoothing of the
 * control signal without clipped output in digital peak limiters", DAFx 2002), and let go by a one-pole filter. A gain that
 * moves changes what lies between samples, so the result is measured and, where it is over still, done again.
 */
export function limited(audio: Audio, { ceilingDbtp, releaseMs }: Limiting): Audio {
  const ceiling = fromDb(ceilingDbtp);
  let out = once(audio, ceiling, ceiling / MARGIN, releaseMs);
  for (let round = 1; round < MOST_ROUNDS; round++) {
    const over = truePeakOf(out.channels) / ceiling;
    if (over <= 1) return out;
    const lower = ceiling / (1 + 2 * (over - 1));
    out = once(out, lower, lower, releaseMs);
  }
  const over = truePeakOf(out.channels) / ceiling;
  return over <= 1 ? out : shaped(out, new Float64Array(frameCount(out)).fill((1 - 1e-6) / over));
}

/** One round towards `aim`; the audio itself where nothing reaches over `ceiling`. */
function once(audio: Audio, ceiling: number, aim: number, releaseMs: number): Audio {
  const frames = frameCount(audio);
  const needed = new Float64Array(frames).fill(1);
  let isOver = false;
  for (const channel of audio.channels) {
    const peaks = truePeaks(channel, aim);
    for (let i = 0; i < frames; i++) {
      const peak = peaks[i] as number;
      if (peak > ceiling) isOver = true;
      if (peak > aim) needed[i] = Math.min(needed[i] as number, aim / peak);
    }
  }
  if (!isOver) return audio;
  const reach = Math.max(1, Math.round((LOOK_AHEAD_MS / 1000) * audio.sampleRate));
  const least = slidingMinimum(needed, reach, reach);
  const release = poleOf(releaseMs, audio.sampleRate);
  let gain = 1;
  for (let i = 0; i < frames; i++) {
    gain = Math.min(least[i] as number, release * gain + (1 - release) * (least[i] as number));
    least[i] = gain;
  }
  const even = runningMean(runningMean(least, Math.floor(reach / 2)), Math.ceil(reach / 2));
  return shaped(audio, even);
}

/** The mean of the values within `reach` of each; the first and the last go on beyond the ends. */
function runningMean(values: Float64Array, reach: number): Float64Array {
  const last = values.length - 1;
  const at = (i: number) => values[Math.max(0, Math.min(last, i))] as number;
  let sum = 0;
  for (let i = -reach; i <= reach; i++) sum += at(i);
  return values.map((_, i) => {
    const mean = sum / (2 * reach + 1);
    sum += at(i + reach + 1) - at(i - reach);
    return mean;
  });
}
