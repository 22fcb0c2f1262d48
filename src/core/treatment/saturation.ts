import { choice, number } from '../parameter/parameter';
import { mix } from './mix';
import { processor } from './processor';

/** Bends the wave: thicker, brighter, or broken. */
export const saturation = processor({
  label: 'Saturation',
  help: 'bends the wave, which adds overtones: thicker, brighter, or broken',
  version: 2,
  parameters: {
    character: choice(
      'Bends by',
      [
        ['round', 'rounding peaks'],
        ['cut', 'cutting peaks'],
        ['lean', 'leaning to one side'],
        ['fold', 'folding back'],
      ],
      'round',
    ),
    driveDb: number({ label: 'Drive', unit: 'dB', low: -12, high: 36, step: 0.5, initial: 6, bipolar: true }),
    /** Over this frequency what is bent is taken down, 6 dB an octave. */
    toneHz: number({
      label: 'Dark over',
      unit: 'Hz',
      low: 200,
      high: 40_000,
      step: 100,
      digits: 0,
      initial: 40_000,
      scale: 'log',
    }),
    outputDb: number({
      label: 'Output',
      unit: 'dB',
      low: -36,
      high: 12,
      step: 0.5,
      neutral: 0,
      initial: 0,
      bipolar: true,
    }),
    mix: mix(1, 0.05),
  },
  told: ({ driveDb }) => `${driveDb > 0 ? '+' : ''}${driveDb} dB`,
});
