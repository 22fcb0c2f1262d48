import { compressorGainDb } from '../../dynamics/compress';
import { attackAndBodyDb, expanderGainDb } from '../../dynamics/expand';
import { type Audio, frameCount } from '../../signal/audio';
import { toDb } from '../../signal/units';
import { type Step, valuesOf } from '../step';
import { envelopeAt } from './envelope';
import { fadeAt } from './fades';

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
    case 'envelope':
      return drawn(audio, (ms, endMs) => envelopeAt(ms, endMs, values));
    case 'fades':
      return drawn(audio, (ms, endMs) => fadeAt(ms, endMs, values));
    default:
      return null;
  }
}

/** A gain by time and by the time of the last frame, both in ms, in dB a frame. */
function drawn(audio: Audio, gainAt: (ms: number, endMs: number) => number): Float32Array {
  const frames = frameCount(audio);
  const ms = 1000 / audio.sampleRate;
  const out = new Float32Array(frames);
  for (let i = 0; i < frames; i++) out[i] = Math.max(-120, toDb(gainAt(i * ms, (frames - 1) * ms)));
  return out;
}
