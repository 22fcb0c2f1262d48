import { rectified, slidingMaximum } from '../../dynamics/followers';
import { type Audio, frameCount } from '../../signal/audio';
import { fromDb, msToFrames } from '../../signal/units';
import { stretched } from '../../stretch/stretch';
import type { length as declared } from '../length';
import type { Process } from '../processor';

/** A level is the largest sample this far to either side: a low drum's swing is no end. */
const SWING_MS = 8;

export const length: Process<typeof declared.parameters> = (audio, values) => {
  const frames = frameCount(audio);
  if (frames === 0) return audio;
  const wanted =
    values.to === 'time'
      ? Math.max(1, Math.round(msToFrames(values.timeMs, audio.sampleRate)))
      : fallsAt(audio, values.levelDb);
  if (values.by === 'fade') return wanted >= frames ? audio : fadedTo(audio, wanted, values.fadeShare);
  const attack = Math.min(Math.round(msToFrames(values.attackMs, audio.sampleRate)), frames - 1, wanted);
  const out = stretched(audio, attack, (wanted - attack) / (frames - attack));
  return { ...out, channels: out.channels.map((channel) => channel.slice(0, wanted)) };
};

/** The first frame from which on the sound stays under a level against its loudest moment; its end where it does not. */
function fallsAt(audio: Audio, levelDb: number): number {
  const near = Math.round(msToFrames(SWING_MS, audio.sampleRate));
  const levels = slidingMaximum(rectified(audio), near, near);
  const least = levels.reduce((most, x) => Math.max(most, x), 0) * fromDb(levelDb);
  if (least === 0) return levels.length;
  return Math.max(1, levels.findLastIndex((x) => x >= least) + 1);
}

function fadedTo(audio: Audio, wanted: number, share: number): Audio {
  const fade = Math.max(1, Math.round(wanted * share));
  const channels = audio.channels.map((channel) => {
    const out = channel.slice(0, wanted);
    // A raised cosine; the last frame is silent.
    for (let i = 0; i < fade; i++) {
      const at = wanted - 1 - i;
      out[at] = (out[at] as number) * (0.5 - 0.5 * Math.cos((Math.PI * i) / fade));
    }
    return out;
  });
  return { ...audio, channels };
}
