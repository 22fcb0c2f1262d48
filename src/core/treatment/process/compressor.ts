import { compressorGainDb } from '../../dynamics/compress';
import { shaped } from '../../dynamics/followers';
import { fromDb } from '../../signal/units';
import type { compressor as declared } from '../compressor';
import type { Process } from '../processor';

export const compressor: Process<typeof declared.parameters> = (audio, values) => {
  const gains = compressorGainDb(audio, values);
  return shaped(audio, (i) => fromDb((gains[i] as number) + values.makeUpDb), values.mix);
};
