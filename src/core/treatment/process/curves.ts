import { compressorGainDb } from '../../dynamics/compress';
import { attackAndBodyDb, expanderGainDb } from '../../dynamics/expand';
import { type Audio, frameCount } from '../../signal/audio';
import { toDb } from '../../signal/units';
import { type Step, valuesOf } from '../step';
import { envelopeAt } from './envelope';

/** The gain over time in dB of a step that has one, for drawing it over the wave; null for other steps. */
export function gainCurve(step: Step, audio: Audio): Float32Array | null {
  const values = valuesOf(step) as never;
  switch (step.processor) {
    case 'compressor':
      return compressorGainDb(audio, values);
    case 'gate':
      return expanderGainDb(audio, values);
    case 'attack':
      return attackAndBodyDb(audio, values);
    case 'envelope': {
      const frames = frameCount(audio);
      const ms = 1000 / audio.sampleRate;
      return Float32Array.from({ length: frames }, (_, i) =>
        Math.max(-120, toDb(envelopeAt(i * ms, (frames - 1) * ms, values))),
      );
    }
    default:
      return null;
  }
}
