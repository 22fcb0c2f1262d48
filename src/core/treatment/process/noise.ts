import { fromBase64 } from '../../bytes';
import { detectOnsets } from '../../onset/detect';
import { selectOnsets } from '../../onset/select';
import { guessNoise, type NoiseSpectrum, unpackNoise } from '../../restoration/noise';
import { withoutRoom } from '../../restoration/reduce';
import { type Audio, frameCount, toMono } from '../../signal/audio';
import type { noise as declared } from '../noise';
import type { Process } from '../processor';

export const noise: Process<typeof declared.parameters> = (audio, values) => {
  // What is no spectrum of a noise counts as none learnt.
  const learnt = unpackNoise(fromBase64(values.room));
  const { onsets, guessed } = heardIn(audio);
  const spectrum = learnt ?? guessed();
  const rest = unpackNoise(fromBase64(values.rest));
  if (!spectrum || values.amountDb === 0 || frameCount(audio) === 0) return audio;
  const room = { spectrum, hum: learnt && rest && values.humHz !== null ? { hz: values.humHz, rest } : null };
  return {
    ...audio,
    channels: audio.channels.map((channel) => withoutRoom(channel, room, onsets, values, audio.sampleRate)),
  };
};

interface Heard {
  readonly onsets: readonly number[];
  readonly guessed: () => NoiseSpectrum | null;
}

/** What was found in a sound, as long as it is in memory: its settings are turned many times. */
const heard = new WeakMap<Audio, Heard>();

function heardIn(audio: Audio): Heard {
  const known = heard.get(audio);
  if (known) return known;
  let guess: NoiseSpectrum | null | undefined;
  const found: Heard = {
    onsets: strokesOf(audio),
    guessed: () => {
      if (guess === undefined) guess = guessNoise(audio);
      return guess;
    },
  };
  heard.set(audio, found);
  return found;
}

/** Where strokes begin in a hit; at its first frame where none is found. */
function strokesOf(audio: Audio): number[] {
  const found = selectOnsets(detectOnsets(toMono(audio), audio.sampleRate), {}, audio.sampleRate).map(
    ({ frame }) => frame,
  );
  return found.length > 0 ? found : [0];
}
