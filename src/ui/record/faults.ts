import type { InputFault } from '@/core/capture/warnings';
import { minus } from '../parts/figures';

/** What is wrong with the input, and what to do. */
export function faultInWords(fault: InputFault): string {
  switch (fault.kind) {
    case 'nothing':
      return 'Nothing comes in: the input is muted or switched off, or gives nothing on this channel.';
    case 'low':
      return `Very low: the loudest stroke is at ${minus(fault.peakDb.toFixed(0))} dBFS. Turn the input up, or go nearer.`;
    case 'clips':
      return `It clips: ${fault.samples} samples at full scale. Turn the input down; what is cut off does not come back.`;
    case 'feedback':
      return `A steady tone at ${Math.round(fault.hz)} Hz: the loudspeakers seem to feed back. Turn them down, or use headphones.`;
  }
}
