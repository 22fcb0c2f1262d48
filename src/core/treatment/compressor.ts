import { choice, number } from '../parameter/parameter';
import { processor } from './processor';

/** Makes loud moments quieter by a curve, and all of it louder. */
export const compressor = processor({
  label: 'Compressor',
  help: 'takes loud moments down by a ratio: denser, or with more punch by a slow attack',
  version: 1,
  parameters: {
    thresholdDb: number({ label: 'Threshold', unit: 'dBFS', low: -80, high: 0, step: 0.5, initial: -18 }),
    ratio: number({ label: 'Ratio', unit: 'to 1', low: 1, high: 40, step: 0.5, neutral: 1, initial: 4, scale: 'log' }),
    kneeDb: number({ label: 'Knee', unit: 'dB', low: 0, high: 36, step: 1, initial: 6 }),
    attackMs: number({ label: 'Attack', unit: 'ms', low: 0, high: 500, step: 1, initial: 10, scale: 'log' }),
    releaseMs: number({ label: 'Release', unit: 'ms', low: 1, high: 5000, step: 5, initial: 120, scale: 'log' }),
    lookAheadMs: number({ label: 'Looks ahead', unit: 'ms', low: 0, high: 50, step: 0.5, initial: 0, scale: 'log' }),
    by: choice(
      'Follows',
      [
        ['peak', 'peaks'],
        ['rms', 'loudness over 5 ms'],
      ],
      'peak',
    ),
    makeUpDb: number({
      label: 'Make-up',
      unit: 'dB',
      low: -24,
      high: 36,
      step: 0.5,
      neutral: 0,
      initial: 0,
      bipolar: true,
    }),
    mix: number({ label: 'Mix', unit: '%', low: 0, high: 1, step: 0.05, digits: 0, initial: 1, times: 100 }),
  },
  told: ({ thresholdDb, ratio }) => `${thresholdDb} dBFS · ${ratio} to 1`,
});
