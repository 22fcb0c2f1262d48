import type { Parameters, Values } from '../parameter/parameter';
import type { Audio } from '../signal/audio';

/** Measurements of a sound. */
export interface Measured {
  /** Largest absolute sample, full scale at 1. */
  readonly peak: number;
  /** Highest momentary loudness in LUFS (ITU-R BS.1770-5). */
  readonly momentaryLufs: number;
}

/** Measures audio. It is passed in, so that the page's code for keys needs no measuring code. */
export type Measure = (audio: Audio) => Measured;

/**
 * A kind of step. Whole audio in, whole audio out; deterministic, the input unchanged. A change of the sound for the
 * same values raises `version`, so that older renders are not reused.
 */
export interface Processor<P extends Parameters = Parameters> {
  readonly label: string;
  readonly version: number;
  readonly parameters: P;
  process(audio: Audio, values: Values<P>, measure: Measure): Audio;
  /**
   * The linear gain of a processor that only multiplies. Players apply it when mixing, so that a sound that is only
   * levelled need not be rendered. Only some values need the audio to be measured.
   */
  readonly gain?: (measured: () => Measured, values: Values<P>) => number;
}

export function processor<const P extends Parameters>(declared: Processor<P>): Processor<P> {
  return declared;
}

/** Audio times a gain; the same object for a gain of one. */
export function amplified(audio: Audio, gain: number): Audio {
  if (gain === 1) return audio;
  return { ...audio, channels: audio.channels.map((channel) => channel.map((x) => x * gain)) };
}
