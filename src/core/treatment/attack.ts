import { number } from '../parameter/parameter';
import { processor } from './processor';

/** Raises or lowers strokes against what rings after them. */
export const attack = processor({
  label: 'Attack and body',
  help: 'more or less attack, more or less of what rings after it, whatever the level',
  version: 1,
  parameters: {
    attackDb: number({
      label: 'Attack',
      unit: 'dB',
      low: -24,
      high: 24,
      step: 0.5,
      neutral: 0,
      initial: 0,
      bipolar: true,
    }),
    bodyDb: number({ label: 'Body', unit: 'dB', low: -24, high: 24, step: 0.5, neutral: 0, initial: 0, bipolar: true }),
    attackMs: number({ label: 'Attack lasts', unit: 'ms', low: 5, high: 300, step: 5, initial: 40, scale: 'log' }),
  },
  told: ({ attackDb, bodyDb }) => `${[attackDb, bodyDb].map((db) => `${db > 0 ? '+' : ''}${db}`).join(' · ')} dB`,
});
