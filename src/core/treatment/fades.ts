import { choice, number, type Values } from '../parameter/parameter';
import { frameCount } from '../signal/audio';
import { msToFrames } from '../signal/units';
import { processor } from './processor';

const CURVES = [
  ['linear', 'straight'],
  ['power', 'equal power'],
  ['smooth', 'smooth'],
  ['exponential', 'exponential'],
] as const;

const time = (label: string) => number({ label, unit: 'ms', low: 0, high: 60_000, step: 1, initial: 0, scale: 'log' });

const parameters = {
  inMs: time('Fade in'),
  inCurve: choice('Fade in is', CURVES, 'linear'),
  outMs: time('Fade out'),
  outCurve: choice('Fade out is', CURVES, 'linear'),
};

type Curve = (typeof CURVES)[number][0];

/** Fades a sound in and out. */
export const fades = processor({
  label: 'Fades',
  version: 1,
  parameters,
  process(audio, values: Values<typeof parameters>) {
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
  },
});

/** Exponential fades fall by this much, then linearly to zero (common practice: inaudible at usual levels). */
const FLOOR = 10 ** (-60 / 20);

/** A fade's gain at a share of its length, 0 at 0 and 1 at 1. */
function curve(kind: Curve, x: number): number {
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
