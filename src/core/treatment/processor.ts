import type { Parameters, Values } from '../parameter/parameter';
import type { Audio } from '../signal/audio';

/** Measurements of a sound, each computed on first use. */
export interface Measured {
  /** Largest absolute sample, full scale at 1. */
  readonly peak: number;
  /** Largest absolute value of the continuous signal, linear (ITU-R BS.1770-5, annex 2). */
  readonly truePeak: number;
  /** Highest momentary loudness in LUFS (ITU-R BS.1770-5). */
  readonly momentaryLufs: number;
  /** Root mean square of the loudest 50 ms, linear. */
  readonly rms: number;
  /** Level of the noise between and after the sound, in dBFS; -Infinity for digital silence. */
  readonly noiseDbfs: number;
}

/** Measures audio. It is passed in, so that the page's code for keys needs no measuring code. */
export type Measure = (audio: Audio) => Measured;

/**
 * A kind of step, as it is declared: what it is called and what can be set. The computation is in `process/`, which the
 * page loads in a worker only. A change of the sound for the same values raises `version`, so that older renders are not
 * reused.
 */
export interface Processor<P extends Parameters = Parameters> {
  readonly label: string;
  /** What it does, for people who choose it. */
  readonly help: string;
  readonly version: number;
  readonly parameters: P;
  /** It shapes one sound from its start to its end, so that a recording of many cannot have it. */
  readonly singleSound?: true;
  /** The values in a few characters, for the list of steps. */
  readonly told?: (values: Values<P>) => string;
  /**
   * The linear gain of a processor that only multiplies. Players apply it when mixing, so that a sound that is only
   * levelled need not be rendered. Only some values need the audio to be measured.
   */
  readonly gain?: (measured: () => Measured, values: Values<P>) => number;
}

/** The computation of a processor. Whole audio in, whole audio out; deterministic, the input unchanged. */
export type Process<P extends Parameters> = (audio: Audio, values: Values<P>, measure: Measure) => Audio;

export function processor<const P extends Parameters>(declared: Processor<P>): Processor<P> {
  return declared;
}

/** Audio times a gain; the same object for a gain of one. */
export function amplified(audio: Audio, gain: number): Audio {
  if (gain === 1) return audio;
  return { ...audio, channels: audio.channels.map((channel) => channel.map((x) => x * gain)) };
}
