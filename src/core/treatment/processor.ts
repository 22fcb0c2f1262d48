import type { Parameters, Values } from '../parameter/parameter';
import type { Audio } from '../signal/audio';

/**
 * What a step does to a sound. Whole audio goes in and whole audio comes out, deterministic, the input unchanged; a change
 * of what the same values sound like counts up `version`, so that no render of before is taken for one of now.
 */
export interface Processor<P extends Parameters = Parameters> {
  readonly label: string;
  readonly version: number;
  readonly parameters: P;
  process(audio: Audio, values: Values<P>): Audio;
  /**
   * The linear gain of a processor that does nothing but multiply. Players apply it in their own mixing, so that a sound
   * that is only levelled need not be rendered. The audio is there for those that measure it.
   */
  readonly gain?: (measured: () => Audio, values: Values<P>) => number;
}

export function processor<const P extends Parameters>(declared: Processor<P>): Processor<P> {
  return declared;
}

/** Audio with every sample multiplied; itself for a gain of one. */
export function amplified(audio: Audio, gain: number): Audio {
  if (gain === 1) return audio;
  return { ...audio, channels: audio.channels.map((channel) => channel.map((x) => x * gain)) };
}
