import { frameCount } from '../../signal/audio';
import { msToFrames } from '../../signal/units';
import type { Process } from '../processor';
import type { trim as declared } from '../trim';

/** At least one frame is left, unless there was none. */
export const trim: Process<typeof declared.parameters> = (audio, { fromMs, toMs }) => {
  const frames = frameCount(audio);
  const at = (ms: number) => Math.min(frames, Math.round(msToFrames(ms, audio.sampleRate)));
  const from = Math.max(0, Math.min(frames - 1, at(fromMs)));
  const to = Math.min(frames, Math.max(from + 1, toMs === null ? frames : at(toMs)));
  if (from === 0 && to === frames) return audio;
  return { ...audio, channels: audio.channels.map((channel) => channel.slice(from, to)) };
};
