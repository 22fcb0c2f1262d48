import { type Audio, toStereo } from '../../signal/audio';
import type { channels as declared } from '../channels';
import type { Process } from '../processor';

/**
 * Middle and side are half the sum and half the difference of left and right, so that a sound that is the same on both
 * keeps its level; mono is the mean of all channels. More than two channels are folded to the listening pair first.
 */
export const channels: Process<typeof declared.parameters> = (audio, { take, invert }) => {
  const taken = takenChannels(audio, take);
  if (!invert) return taken === audio.channels ? audio : { ...audio, channels: taken };
  return { ...audio, channels: taken.map((channel) => channel.map((x) => -x)) };
};

function takenChannels(
  audio: Audio,
  take: (typeof declared.parameters.take.options)[number][0],
): readonly Float32Array[] {
  if (take === 'all' || (audio.channels.length < 2 && take !== 'side')) return audio.channels;
  const [left, right] = toStereo(audio);
  switch (take) {
    case 'left':
      return [left];
    case 'right':
      return [right];
    case 'mid':
      return [left.map((x, i) => (x + (right[i] as number)) / 2)];
    case 'side':
      return [left.map((x, i) => (x - (right[i] as number)) / 2)];
    case 'swap':
      return [right, left];
    case 'mono':
      return [mean(audio.channels)];
  }
}

function mean(all: readonly Float32Array[]): Float32Array {
  const [first] = all as [Float32Array];
  return first.map((_, i) => all.reduce((sum, channel) => sum + (channel[i] as number), 0) / all.length);
}
