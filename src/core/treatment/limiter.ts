import { number } from '../parameter/parameter';
import { processor } from './processor';

/** Keeps true peaks under a ceiling. */
export const limiter = processor({
  label: 'Limiter',
  help: 'keeps true peaks under a ceiling; a gain before it makes the sound louder',
  version: 2,
  parameters: {
    gainDb: number({ label: 'Gain', unit: 'dB', low: -24, high: 36, step: 0.5, neutral: 0, initial: 0, bipolar: true }),
    ceilingDbtp: number({ label: 'Ceiling', unit: 'dBTP', low: -40, high: 0, step: 0.5, initial: -1 }),
    releaseMs: number({ label: 'Release', unit: 'ms', low: 1, high: 2000, step: 5, initial: 50, scale: 'log' }),
  },
  told: ({ ceilingDbtp }) => `${ceilingDbtp} dBTP`,
});
