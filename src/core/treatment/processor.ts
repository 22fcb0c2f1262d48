import type { Parameters, Values } from '../parameter/parameter';
import type { Audio } from '../signal/audio';

/** What can be measured of a sound. */
export interface Measured {
  /** Largest absolute sample, full scale at 1. */
  readonly peak: number;
  /** Highest momentary loudness in LUFS (ITU-R BS.1770-5). */
  readonly momentaryLufs: number;
}

/** Measures audio. It is handed in: what only tells sounds apart, as the page does, needs no code that measures. */
export type Measure = (audio: Audio) => Measured;

/**
 * What a step does to a sound. Whole audio goes in and whole audio comes out, deterministic, the input unchanged; a change
 * of what the same values sound like counts up `version`, so that no render of before is taken for one of now.
 */
export interface Processor<P extends Parameters = Parameters> {
  readonly label: string;
  readonly version: number;
  readonly parameters: P;
  process(audio: Audio, values: Values<P>, measure: Measure): Audio;
  /**
   * The linear gain of a processor that does nothing but multiply. Players apply it in their own mixing, so that a sound
   * that is only levelled need not be rendered. Measuring it takes the audio, which only some values ask for.
   */
  readonly gain?: (measured: () => Measured, values: Values<P>) => number;
}

export function processor<const P extends Parameters>(declared: Processor<P>): Processor<P> {
  return declared;
}

/** Audio with every sample multiplied; itself for a gain of one. */
export function amplified(audio: Audio, gain: number): Audio {
  if (gain === 1) return audio;
  return { ...audio, channels: audio.channels.map((channel) => channel.map((x) => x * gain)) };
}
