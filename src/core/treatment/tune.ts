import { choice, number } from '../parameter/parameter';
import { processor } from './processor';

/** Moves the pitch. */
export const tune = processor({
  label: 'Tune',
  help: 'moves the pitch by semitones and cents, with or without the length; glides in from another pitch',
  version: 1,
  parameters: {
    semitones: number({
      label: 'Tune',
      unit: 'st',
      low: -48,
      high: 48,
      step: 1,
      neutral: 0,
      initial: 0,
      whole: true,
      bipolar: true,
    }),
    cents: number({
      label: 'Fine tune',
      unit: 'cents',
      low: -100,
      high: 100,
      step: 1,
      neutral: 0,
      initial: 0,
      bipolar: true,
    }),
    keep: choice(
      'Keeps',
      [
        ['nothing', 'neither: higher is shorter'],
        ['length', 'its length'],
        ['attack', 'attack and length'],
      ],
      'nothing',
    ),
    attackMs: number({ label: 'Attack kept', unit: 'ms', low: 1, high: 200, step: 1, initial: 15, scale: 'log' }),
    /** The pitch at the beginning, against the one it glides to. */
    sweepSemitones: number({
      label: 'Glides in from',
      unit: 'st',
      low: -48,
      high: 48,
      step: 1,
      neutral: 0,
      initial: 0,
      bipolar: true,
    }),
    sweepMs: number({ label: 'Glides for', unit: 'ms', low: 1, high: 2000, step: 5, initial: 60, scale: 'log' }),
  },
  told: ({ semitones, cents }) => {
    const sign = (n: number) => (n > 0 ? '+' : '');
    return semitones === 0 && cents !== 0
      ? `${sign(cents)}${cents} cents`
      : `${sign(semitones)}${semitones} st${cents === 0 ? '' : ` ${sign(cents)}${cents} c`}`;
  },
});
