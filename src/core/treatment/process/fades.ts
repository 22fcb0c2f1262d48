import type { Values } from '../../parameter/parameter';
import { frameCount } from '../../signal/audio';
import { msToFrames } from '../../signal/units';
import type { CURVES, fades as declared } from '../fades';
import type { Process } from '../processor';

export const fades: Process<typeof declared.parameters> = (audio, values) => {
  const frames = frameCount(audio);
  const into = Math.min(frames, Math.round(msToFrames(values.inMs, audio.sampleRate)));
  const out = Math.min(frames, Math.round(msToFrames(values.outMs, audio.sampleRate)));
  if (into === 0 && out === 0) return audio;
  const channels = audio.channels.map((channel) => {
    const faded = channel.slice();
    for (let i = 0; i < into; i++) faded[i] = (faded[i] as number) * curve(values.inCurve, i / into);
    // The last frame is silent, so that nothing clicks after it.
    for (let i = 0; i < out; i++) {
      const at = frames - 1 - i;
      faded[at] = (faded[at] as number) * curve(values.outCurve, i / out);
    }
    return faded;
  });
  return { ...audio, channels };
};

/** Exponential fades fall by this much, then linearly to zero (common practice: inaudible at usual levels). */
const FLOOR = 10 ** (-60 / 20);

/** A fade's gain at a share of its length, 0 at 0 and 1 at 1. */
export function curve(kind: (typeof CURVES)[number][0], x: number): number {
  switch (kind) {
    case 'linear':
      return x;
    case 'power':
      return Math.sin((x * Math.PI) / 2);
    case 'smooth':
      return (1 - Math.cos(x * Math.PI)) / 2;
    case 'exponential':
      return (FLOOR ** (1 - x) - FLOOR) / (1 - FLOOR);
  }
}

/** The gain of both fades at a time of a sound whose last frame is at `endMs`, for drawing them. */
export function fadeAt(ms: number, endMs: number, values: Values<typeof declared.parameters>): number {
  const { inMs, inCurve, outMs, outCurve } = values;
  const into = ms < inMs ? curve(inCurve, ms / inMs) : 1;
  const left = Math.max(0, endMs - ms);
  return left < outMs ? into * curve(outCurve, left / outMs) : into;
}
