import { clicksOf, withoutClicks } from '../../restoration/clicks';
import type { clicks as declared } from '../clicks';
import type { Process } from '../processor';

export const clicks: Process<typeof declared.parameters> = (audio, values) => ({
  ...audio,
  channels: audio.channels.map((channel) => withoutClicks(channel, clicksOf(channel, values, audio.sampleRate))),
});
