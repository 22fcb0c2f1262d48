import { compressorGainDb } from '../../dynamics/compress';
import { linear, shaped } from '../../dynamics/followers';
import type { compressor as declared } from '../compressor';
import type { Process } from '../processor';

export const compressor: Process<typeof declared.parameters> = (audio, values) =>
  shaped(audio, linear(compressorGainDb(audio, values), values.makeUpDb), values.mix);
