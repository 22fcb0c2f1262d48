import type { Audio } from '../../signal/audio';
import { type dc as declared, OFFSETS } from '../dc';
import type { Process } from '../processor';

export const dc: Process<typeof declared.parameters> = (audio, values) =>
  withoutDc(
    audio,
    OFFSETS.map((name) => values[name]),
  );

/** Audio minus a constant for each channel; the same object where all are zero. */
export function withoutDc(audio: Audio, offsets: readonly number[]): Audio {
  if (audio.channels.every((_, c) => (offsets[c] ?? 0) === 0)) return audio;
  const channels = audio.channels.map((channel, c) => {
    const offset = offsets[c] ?? 0;
    return offset === 0 ? channel : channel.map((x) => x - offset);
  });
  return { ...audio, channels };
}
