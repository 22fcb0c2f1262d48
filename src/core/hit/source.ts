import type { Audio } from '../signal/audio';
import type { Hit } from './model';

/**
 * A sound as it is played: audio, and a linear gain for the player to apply. Levelling at the end of the steps becomes
 * part of the gain, which avoids a copy of the audio and another rounding.
 */
export interface Rendered {
  readonly audio: Audio;
  readonly gain: number;
}

/** Gives the audio of a stretch: all channels, at its recording's rate. It must not be changed afterwards. */
export type SourceOf = (stretch: Hit) => Audio;

/** Reads each source once, since several layers may use the same stretch. */
export function readOnce(source: SourceOf): SourceOf {
  const known = new Map<string, Audio>();
  return (stretch) => {
    const key = `${stretch.recordingId} ${stretch.startFrame} ${stretch.endFrame}`;
    const audio = known.get(key) ?? source(stretch);
    known.set(key, audio);
    return audio;
  };
}
