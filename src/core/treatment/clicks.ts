import { number } from '../parameter/parameter';
import { processor } from './processor';

/** Takes clicks out of a sound. */
export const clicks = processor({
  label: 'Click repair',
  help: 'finds clicks of worn records and bad cables, and puts in what was there',
  version: 1,
  parameters: {
    /** How far a click stands out of what can be foretold, as a factor. */
    threshold: number({
      label: 'Stands out by',
      unit: 'times',
      low: 4,
      high: 200,
      step: 1,
      digits: 0,
      initial: 16,
      scale: 'log',
    }),
    longestMs: number({
      label: 'Longest',
      unit: 'ms',
      low: 0.1,
      high: 5,
      step: 0.1,
      digits: 1,
      initial: 1.5,
      scale: 'log',
    }),
  },
  told: ({ longestMs }) => `up to ${longestMs} ms`,
});
