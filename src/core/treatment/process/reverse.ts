import type { Process } from '../processor';

export const reverse: Process<Record<never, never>> = (audio) => ({
  ...audio,
  channels: audio.channels.map((channel) => channel.slice().reverse()),
});
