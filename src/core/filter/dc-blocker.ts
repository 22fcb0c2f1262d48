import { filtered } from './biquad';
import { firstOrderPass } from './cookbook';

/** Under every drum: takes off a constant that a lopsided curve makes. */
export const DC_CUTOFF_HZ = 8;

export function highPassed(channel: Float32Array, sampleRate: number): Float32Array {
  return filtered(channel, [firstOrderPass(-1, DC_CUTOFF_HZ, sampleRate)]);
}
