import { positionsOf, readAt, resampled } from '../../resampling/sinc';
import { type Audio, frameCount } from '../../signal/audio';
import { msToFrames, pitchRatio } from '../../signal/units';
import { stretched } from '../../stretch/stretch';
import type { Process } from '../processor';
import type { tune as declared } from '../tune';

export const tune: Process<typeof declared.parameters> = (audio, values) => {
  const { semitones, cents, keep, attackMs, sweepSemitones, sweepMs } = values;
  const ratio = pitchRatio(semitones, cents);
  if (frameCount(audio) === 0) return audio;
  const moved = keep === 'nothing' ? resampled(audio, ratio) : shifted(audio, ratio, keep === 'attack' ? attackMs : 0);
  return sweepSemitones === 0 ? moved : glided(moved, sweepSemitones, msToFrames(sweepMs, audio.sampleRate));
};

/** Pitch moved and length kept: stretched by the ratio, then resampled. An attack kept is laid over it untouched. */
function shifted(audio: Audio, ratio: number, attackMs: number): Audio {
  if (ratio === 1) return audio;
  const frames = frameCount(audio);
  const attack = Math.min(frames, Math.round(msToFrames(attackMs, audio.sampleRate)));
  const moved = resampled(stretched(audio, 0, ratio), ratio);
  // The body fades in as the attack fades out, over half its time.
  const half = Math.max(1, Math.floor(attack / 2));
  const channels = audio.channels.map((channel, c) => {
    const out = new Float32Array(frames);
    const body = moved.channels[c] as Float32Array;
    for (let i = 0; i < frames; i++) {
      const share = attack === 0 ? 1 : Math.max(0, Math.min(1, (i - half) / half));
      const even = share === 0 || share === 1 ? share : Math.sin((share * Math.PI) / 2) ** 2;
      out[i] = (channel[i] as number) * (1 - even) + (body[i] ?? 0) * even;
    }
    return out;
  });
  return { ...audio, channels };
}

/** Begins so many semitones off and comes to its own pitch in a curve that flattens out. */
function glided(audio: Audio, semitones: number, frames: number): Audio {
  const { positions, ratios } = positionsOf((n) => {
    const left = Math.max(0, 1 - n / frames);
    return pitchRatio(semitones * left * left);
  }, frameCount(audio));
  return readAt(audio, positions, ratios);
}
