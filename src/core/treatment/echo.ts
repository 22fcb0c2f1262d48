import { choice, number } from '../parameter/parameter';
import { mix } from './mix';
import { processor } from './processor';

/** Repeats a sound, each time softer and duller. */
export const echo = processor({
  label: 'Echo',
  help: 'repeats the sound, each time softer and duller; the tail it adds makes the hit longer',
  version: 1,
  parameters: {
    timeMs: number({ label: 'Time', unit: 'ms', low: 1, high: 4000, step: 1, fine: 0.1, initial: 250, scale: 'log' }),
    feedback: number({
      label: 'Goes on',
      unit: '%',
      low: 0,
      high: 0.95,
      step: 0.01,
      digits: 0,
      initial: 0.35,
      times: 100,
    }),
    toneHz: number({
      label: 'Highs to',
      unit: 'Hz',
      low: 300,
      high: 20_000,
      step: 100,
      digits: 0,
      initial: 6000,
      scale: 'log',
    }),
    sides: choice(
      'Sides',
      [
        ['as-they-are', 'as they are'],
        ['to-and-fro', 'to and fro'],
      ],
      'as-they-are',
    ),
    mix: mix(0.2, 0.01),
  },
  told: ({ timeMs, mix }) => `${Math.round(timeMs)} ms · ${Math.round(mix * 100)} %`,
});
