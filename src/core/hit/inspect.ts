import { rootOf } from '../describe/root';
import { Fft } from '../kernel/fft';
import { measured } from '../loudness/measured';
import { type Audio, frameCount, peakOf, toMono } from '../signal/audio';
import { toDb } from '../signal/units';

/** Figures of a hit as it sounds; -Infinity for levels of silence. */
export interface HitFigures {
  readonly frames: number;
  readonly truePeakDbtp: number;
  readonly lufs: number;
  readonly noiseDbfs: number;
  readonly rootHz: number | null;
  /** From the loudest moment until the sound stays 40 dB under it, in ms. */
  readonly tailMs: number;
}

/** Measures a hit's audio as it is played with a linear gain. */
export function figuresOf(audio: Audio, gain: number): HitFigures {
  const { truePeak, momentaryLufs, noiseDbfs } = measured(audio);
  const gainDb = toDb(gain);
  return {
    frames: frameCount(audio),
    truePeakDbtp: toDb(truePeak) + gainDb,
    lufs: momentaryLufs + gainDb,
    noiseDbfs: noiseDbfs + gainDb,
    rootHz: rootOf(toMono(audio), audio.sampleRate)?.hz ?? null,
    tailMs: tailMs(audio),
  };
}

const TAIL_DB = 40;
const STEP_MS = 5;

function tailMs({ sampleRate, channels }: Audio): number {
  const size = Math.max(1, Math.round((STEP_MS / 1000) * sampleRate));
  const frames = channels[0]?.length ?? 0;
  const levels = Array.from({ length: Math.ceil(frames / size) }, (_, n) => peakOf(channels, n * size, (n + 1) * size));
  const loudest = levels.reduce((most, x) => Math.max(most, x), 0);
  if (loudest === 0) return 0;
  const last = levels.findLastIndex((x) => x > loudest * 10 ** (-TAIL_DB / 20));
  return (last + 1 - levels.indexOf(loudest)) * STEP_MS;
}

/** Middles of the spectrum's bands in hertz: a sixth of an octave each, from 20 Hz to 20 kHz. */
export const SPECTRUM_HZ = Float32Array.from({ length: 61 }, (_, i) => 20 * 2 ** (i / 6));
const MOST_FRAMES = 2 ** 17;

/** Energy in each band of `SPECTRUM_HZ`, in dB against the sound's own frames; a hit's first seconds, channels added up. */
export function spectrumOf(audio: Audio, gain: number): Float32Array {
  const frames = Math.min(frameCount(audio), MOST_FRAMES);
  const size = Math.max(4096, 2 ** Math.ceil(Math.log2(Math.max(1, frames))));
  const fft = new Fft(size);
  const bands = new Float64Array(SPECTRUM_HZ.length);
  for (const channel of audio.channels) {
    const frame = new Float32Array(size);
    frame.set(channel.subarray(0, frames));
    const { re, im } = fft.forward(frame);
    for (const [b, hz] of SPECTRUM_HZ.entries()) {
      const [low, high] = [hz * 2 ** (-1 / 12), hz * 2 ** (1 / 12)].map((f) => (f * size) / audio.sampleRate) as [
        number,
        number,
      ];
      let sum = 0;
      for (
        let k = Math.max(1, Math.round(low));
        k <= Math.min(size / 2, Math.max(Math.round(low), Math.round(high) - 1));
        k++
      )
        sum += (re[k] as number) ** 2 + (im[k] as number) ** 2;
      bands[b] = (bands[b] as number) + sum;
    }
  }
  const scale = (2 * gain * gain) / (size * Math.max(1, frames) * Math.max(1, audio.channels.length));
  return Float32Array.from(bands, (power) => 10 * Math.log10(power * scale + 1e-14));
}
