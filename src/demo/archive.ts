import type { Audio } from '../core/signal/audio';
import { seededRandom } from '../core/signal/random';
import { addNoise, addTone, play, type Strike, scaleToPeak } from './scenario';
import type { VoiceName } from './voices';

/** A ready single sound of the troupe's prop shelf, named as such files are. */
export interface DemoOneShot {
  readonly fileName: string;
  readonly audio: Audio;
}

const SHELF: readonly (readonly [fileName: string, strikes: readonly Strike[], tailSeconds: number])[] = [
  ['prop-shelf/Kick barrel 1.wav', [{ seconds: 0.02, voice: 'kick', level: 0.9 }], 0.5],
  ['prop-shelf/Kick barrel 2.wav', [{ seconds: 0.08, voice: 'soft kick', level: 0.5 }], 0.4],
  ['prop-shelf/Snare meal sack 1.wav', [{ seconds: 0.01, voice: 'snare', level: 0.8 }], 0.4],
  ['prop-shelf/Snare meal sack 2.wav', [{ seconds: 0.15, voice: 'tight snare', level: 0.3 }], 0.35],
  ['prop-shelf/HatClosed_shears_01.wav', [{ seconds: 0.02, voice: 'closed hat', level: 0.5 }], 0.2],
  ['prop-shelf/HatOpen_shears_01.wav', [{ seconds: 0.02, voice: 'open hat', level: 0.5 }], 0.8],
  ['prop-shelf/Tom churn low.wav', [{ seconds: 0.03, voice: 'low tom', level: 0.8 }], 0.7],
  ['prop-shelf/Crash roof tin.wav', [{ seconds: 0.02, voice: 'crash', level: 0.6 }], 1.8],
  ['prop-shelf/Clap sluice board.wav', [{ seconds: 0.02, voice: 'clap', level: 0.7 }], 0.3],
  [
    'prop-shelf/Perc door knock.wav',
    [
      { seconds: 0.02, voice: 'thud', level: 0.7 },
      { seconds: 0.34, voice: 'thud', level: 0.6 },
    ],
    0.5,
  ],
  // A name that the sound does not bear out, as shelves have them.
  ['prop-shelf/Closed hat (tin lid).wav', [{ seconds: 0.02, voice: 'low tom', level: 0.5 }], 0.6],
];

export function demoOneShots(): DemoOneShot[] {
  return SHELF.map(([fileName, strikes, tail], n) => {
    const length = (strikes.at(-1) as Strike).seconds + tail;
    return { fileName, audio: play(strikes, length, 48000, 1, 40 + n).audio };
  });
}

/** A worn cylinder of the fairground organ: tones over the clockwork drummer, a bare stretch, and clicks. */
export function waxCylinder(): { readonly audio: Audio; readonly clicks: readonly number[] } {
  const sampleRate = 22050;
  const beat = 60 / 112;
  const seconds = 24 * beat + 1;
  const voices: VoiceName[] = ['soft kick', 'closed hat', 'tight snare', 'closed hat'];
  const strikes = Array.from({ length: 24 }, (_, n): Strike => {
    return { seconds: 0.3 + n * beat, voice: voices[n % 4] as VoiceName, level: 0.7 };
  });
  const { audio } = play(strikes, seconds, sampleRate, 1, 9);
  const tune = [69, 72, 76, 72, 71, 74, 77, 74];
  for (let n = 0; n < 24; n++) {
    if (n >= 8 && n < 16) continue;
    for (const octave of [0, 12]) {
      const hz = 440 * 2 ** (((tune[n % 8] as number) - 69 + octave) / 12);
      addTone(audio, 0.3 + n * beat, hz, beat * 0.95, 0.16, 0);
    }
  }
  scaleToPeak(audio, 0.6);
  addNoise(audio, 0.004, 77);
  const random = seededRandom(4);
  const channel = audio.channels[0] as Float32Array;
  const clicks: number[] = [];
  for (let n = 0; n < 30; n++) {
    const at = Math.floor(random() * (channel.length - 40));
    clicks.push(at);
    for (let i = 0; i < 12; i++)
      channel[at + i] = (channel[at + i] as number) + 0.5 * (random() - 0.5) * Math.exp(-i / 3);
  }
  return { audio, clicks };
}
