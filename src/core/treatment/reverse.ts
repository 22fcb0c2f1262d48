import { processor } from './processor';

/** Plays a sound from its end to its beginning. */
export const reverse = processor({
  label: 'Reverse',
  version: 1,
  parameters: {},
  process: (audio) => ({ ...audio, channels: audio.channels.map((channel) => channel.slice().reverse()) }),
});
