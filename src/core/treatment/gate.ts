import { number } from '../parameter/parameter';
import { processor } from './processor';

/** Takes down what is quiet against a sound's loudest moment. */
export const gate = processor({
  label: 'Gate',
  help: 'takes down what lies under a level, as room and bleed behind a hit',
  version: 1,
  parameters: {
    thresholdDb: number({ label: 'Under the loudest', unit: 'dB', low: -90, high: 0, step: 1, initial: -40 }),
    ratio: number({ label: 'Ratio', unit: 'to 1', low: 1, high: 20, step: 0.5, initial: 3, scale: 'log' }),
    rangeDb: number({ label: 'At most', unit: 'dB', low: 0, high: 90, step: 1, neutral: 0, initial: 40 }),
    attackMs: number({ label: 'Opens in', unit: 'ms', low: 0, high: 100, step: 0.5, initial: 0.5, scale: 'log' }),
    holdMs: number({ label: 'Holds', unit: 'ms', low: 0, high: 2000, step: 5, initial: 10, scale: 'log' }),
    releaseMs: number({ label: 'Closes in', unit: 'ms', low: 1, high: 5000, step: 5, initial: 60, scale: 'log' }),
  },
  told: ({ thresholdDb }) => `under ${thresholdDb} dB`,
});
