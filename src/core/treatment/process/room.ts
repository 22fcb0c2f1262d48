import { convolved } from '../../kernel/convolution';
import { roomResponse } from '../../room/response';
import { frameCount, toMono } from '../../signal/audio';
import type { Process } from '../processor';
import type { room as declared } from '../room';

/** The room hears the sound as one; what comes back is left and right, and as long as its tail. */
export const room: Process<typeof declared.parameters> = (audio, values) => {
  const { mix } = values;
  if (mix === 0 || frameCount(audio) === 0) return audio;
  const heard = toMono(audio);
  const dry = audio.channels.length > 2 ? [heard, heard] : audio.channels;
  const channels = roomResponse(values, audio.sampleRate).map((h, side) => {
    const out = convolved(heard, h);
    const own = (dry[side] ?? dry[0]) as Float32Array;
    for (let i = 0; i < out.length; i++) out[i] = mix * (out[i] as number) + (1 - mix) * (own[i] ?? 0);
    return out;
  });
  return { ...audio, channels };
};
