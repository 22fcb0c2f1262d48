import { choice, number } from '../parameter/parameter';
import { processor } from './processor';

/** Makes a sound shorter or longer. */
export const length = processor({
  label: 'Length',
  help: 'shortens or lengthens: to a time, or to where the sound has fallen to a level',
  version: 1,
  singleSound: true,
  parameters: {
    to: choice(
      'Ends',
      [
        ['time', 'at a time'],
        ['level', 'at a level'],
      ],
      'time',
    ),
    timeMs: number({
      label: 'Length',
      unit: 'ms',
      low: 1,
      high: 60_000,
      step: 10,
      fine: 1,
      digits: 0,
      initial: 300,
      scale: 'log',
    }),
    /** Against the loudest moment. */
    levelDb: number({ label: 'Under the loudest', unit: 'dB', low: -90, high: -3, step: 1, initial: -40 }),
    by: choice(
      'By',
      [
        ['fade', 'fading the tail'],
        ['stretch', 'stretching the tail'],
      ],
      'fade',
    ),
    fadeShare: number({ label: 'Faded', unit: '%', low: 0, high: 1, step: 0.05, digits: 0, initial: 0.5, times: 100 }),
    attackMs: number({ label: 'Attack kept', unit: 'ms', low: 5, high: 500, step: 1, initial: 20, scale: 'log' }),
  },
  told: ({ to, timeMs, levelDb }) => (to === 'time' ? `${Math.round(timeMs)} ms` : `${levelDb} dB`),
});
