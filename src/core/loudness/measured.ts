import { truePeakOf } from '../resampling/oversampling';
import { type Audio, frameCount, peakOf } from '../signal/audio';
import { momentaryLufs } from './loudness';

interface Measured {
  readonly peak: number;
  readonly truePeak: number;
  readonly momentaryLufs: number;
  readonly rms: number;
  readonly noiseDbfs: number;
}

/** Peak, loudness and noise of audio, each computed on first use. */
export function measured(audio: Audio): Measured {
  return {
    get peak() {
      return peakOf(audio.channels);
    },
    get truePeak() {
      return truePeakOf(audio.channels);
    },
    get momentaryLufs() {
      return momentaryLufs(audio);
    },
    get rms() {
      return Math.sqrt(loudestPower(audio));
    },
    get noiseDbfs() {
      return noiseDbfs(audio);
    },
  };
}

/** The root mean square is that of the loudest stretch of this length, in ms, so that a tail does not make a hit quiet. */
const RMS_MS = 50;
/** Noise is looked for in stretches of this length, in ms. */
const STEP_MS = 10;
/** The share of the quietest stretches that is taken for noise. */
const QUIET_SHARE = 0.1;

/** Mean squares over all channels of consecutive stretches, the last one as long as it is. */
function powersOf({ sampleRate, channels }: Audio, ms: number): Float64Array {
  const size = Math.max(1, Math.round((ms / 1000) * sampleRate));
  const frames = channels[0]?.length ?? 0;
  const powers = new Float64Array(Math.ceil(frames / size));
  for (const channel of channels)
    for (let i = 0; i < frames; i++)
      powers[Math.floor(i / size)] = (powers[Math.floor(i / size)] as number) + (channel[i] as number) ** 2;
  return powers.map((sum, n) => sum / channels.length / Math.min(size, frames - n * size));
}

function loudestPower(audio: Audio): number {
  const frames = frameCount(audio);
  const steps = powersOf(audio, STEP_MS);
  const count = Math.min(steps.length, RMS_MS / STEP_MS);
  let loudest = 0;
  for (let n = 0; n + count <= steps.length; n++) {
    let sum = 0;
    for (let k = n; k < n + count; k++) sum += steps[k] as number;
    loudest = Math.max(loudest, sum / count);
  }
  return frames === 0 ? 0 : loudest;
}

/** The quietest stretches are noise where those next quieter are no more than this louder, in dB: a tail still falls there. */
const PLATEAU_DB = 3;

/** Level of the noise that a sound has sunk into, in dBFS; -Infinity where it is still falling at its quietest. */
function noiseDbfs(audio: Audio): number {
  const sounding = powersOf(audio, STEP_MS)
    .filter((power) => power > 0)
    .sort();
  const count = Math.max(1, Math.floor(QUIET_SHARE * sounding.length));
  const level = (from: number, to: number) =>
    10 * Math.log10(sounding.subarray(from, to).reduce((sum, x) => sum + x, 0) / Math.max(1, to - from));
  const quietest = level(0, count);
  const next = level(count, Math.ceil(2.5 * count));
  return sounding.length >= 5 && next - quietest <= PLATEAU_DB ? quietest : Number.NEGATIVE_INFINITY;
}
