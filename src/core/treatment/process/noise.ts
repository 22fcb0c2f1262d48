import { fromBase64 } from '../../bytes';
import { detectOnsets } from '../../onset/detect';
import { selectOnsets } from '../../onset/select';
import { guessNoise, unpackNoise, withoutNoise } from '../../restoration/noise';
import { type Audio, frameCount, toMono } from '../../signal/audio';
import type { noise as declared } from '../noise';
import type { Process } from '../processor';

export const noise: Process<typeof declared.parameters> = (audio, values) => {
  // What is no spectrum of a noise counts as none learnt.
  const spectrum = unpackNoise(fromBase64(values.room)) ?? guessNoise(audio);
  if (!spectrum || values.amountDb === 0 || frameCount(audio) === 0) return audio;
  const onsets = strokesOf(audio);
  return {
    ...audio,
    channels: audio.channels.map((channel) => withoutNoise(channel, spectrum, onsets, values, audio.sampleRate)),
  };
};

/** Where strokes begin in a hit; at its first frame where none is found. */
function strokesOf(audio: Audio): number[] {
  const found = selectOnsets(detectOnsets(toMono(audio), audio.sampleRate), {}, audio.sampleRate).map(
    ({ frame }) => frame,
  );
  return found.length > 0 ? found : [0];
}
