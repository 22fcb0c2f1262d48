import { Fft } from '../kernel/fft';
import type { Audio } from '../signal/audio';

/** Middles of the spectrum's bands in hertz: a sixth of an octave each, from 20 Hz to 20 kHz. */
export const SPECTRUM_HZ = Float32Array.from({ length: 61 }, (_, i) => 20 * 2 ** (i / 6));

const MOST_FRAMES = 2 ** 17;
/** Short sounds are padded to so many frames, so that no band lies between two bins. */
const LEAST_SIZE = 2 ** 15;

/** A band that loses much in mono: its middle in hertz, and what it loses in dB, negative. */
export interface Cancelled {
  readonly hz: number;
  readonly lossDb: number;
}

/** A band that loses more than this in mono cancels; sides that have nothing in common lose 3 dB. */
const CANCELS_DB = -6;
/** Bands this far under the strongest are not heard. */
const HEARD_DB = -30;

/** Energy in each band of `SPECTRUM_HZ`, in dB against the sound's own frames; a hit's first seconds, channels added up. */
export function spectrumOf(audio: Audio, gain: number): Float32Array {
  const powers = new Float64Array(SPECTRUM_HZ.length);
  for (const channel of audio.channels)
    for (const [b, power] of bandPowers(channel, audio.sampleRate).entries()) powers[b] = (powers[b] as number) + power;
  const scale = (gain * gain) / Math.max(1, audio.channels.length);
  return Float32Array.from(powers, (power) => 10 * Math.log10(power * scale + 1e-14));
}

/**
 * The bands in which the two sides cancel when they are added up: the power of their mean against the mean of their
 * powers. Empty for other than two channels.
 */
export function cancelledBands(audio: Audio): Cancelled[] {
  const [left, right, third] = audio.channels;
  if (!left || !right || third) return [];
  const sum = left.map((x, i) => (x + (right[i] as number)) / 2);
  const [l, r, m] = [left, right, sum].map((side) => bandPowers(side, audio.sampleRate)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const apart = l.map((power, b) => (power + (r[b] as number)) / 2);
  const strongest = apart.reduce((most, power) => Math.max(most, power), 0);
  return Array.from(SPECTRUM_HZ, (hz, b) => ({
    hz,
    lossDb: 10 * Math.log10(((m[b] as number) + 1e-18) / ((apart[b] as number) + 1e-18)),
  })).filter(
    ({ lossDb }, b) => lossDb < CANCELS_DB && (apart[b] as number) > strongest * 10 ** (HEARD_DB / 10) && strongest > 0,
  );
}

/** The power of a sound's first seconds in each band, so that a full-scale square has 1 in all bands together. */
function bandPowers(samples: Float32Array, sampleRate: number): Float64Array {
  const frames = Math.min(samples.length, MOST_FRAMES);
  const size = Math.max(LEAST_SIZE, 2 ** Math.ceil(Math.log2(Math.max(1, frames))));
  const frame = new Float32Array(size);
  frame.set(samples.subarray(0, frames));
  const { re, im } = new Fft(size).forward(frame);
  const edge = 2 ** (1 / 12);
  return Float64Array.from(SPECTRUM_HZ, (hz) => {
    const from = Math.max(0.5, (hz / edge / sampleRate) * size);
    const to = Math.min(size / 2, ((hz * edge) / sampleRate) * size);
    let sum = 0;
    for (let k = Math.round(from); k <= Math.round(to); k++) {
      // A bin at an edge counts by its part inside.
      const part = Math.min(k + 0.5, to) - Math.max(k - 0.5, from);
      const [r, i] = [re[k] as number, im[k] as number];
      sum += Math.max(0, part) * (r * r + i * i);
    }
    return (2 * sum) / (size * Math.max(1, frames));
  });
}
