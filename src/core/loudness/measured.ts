import { type Audio, peakOf } from '../signal/audio';
import { momentaryLufs } from './loudness';

/** Peak and loudness of audio, each computed on first use. */
export function measured(audio: Audio): { readonly peak: number; readonly momentaryLufs: number } {
  return {
    get peak() {
      return peakOf(audio.channels);
    },
    get momentaryLufs() {
      return momentaryLufs(audio);
    },
  };
}
