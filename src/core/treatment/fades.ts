import { choice, number } from '../parameter/parameter';
import { processor } from './processor';

export const CURVES = [
  ['linear', 'straight'],
  ['power', 'equal power'],
  ['smooth', 'smooth'],
  ['exponential', 'exponential'],
] as const;

const time = (label: string) => number({ label, unit: 'ms', low: 0, high: 60_000, step: 1, initial: 0, scale: 'log' });

/** Fades a sound in and out. */
export const fades = processor({
  label: 'Fades',
  help: 'fades the sound in and out, so that nothing clicks',
  version: 1,
  singleSound: true,
  parameters: {
    inMs: time('Fade in'),
    inCurve: choice('Fade in is', CURVES, 'linear'),
    outMs: time('Fade out'),
    outCurve: choice('Fade out is', CURVES, 'linear'),
  },
  told: ({ inMs, outMs }) => `${inMs} ms · ${outMs} ms`,
});
