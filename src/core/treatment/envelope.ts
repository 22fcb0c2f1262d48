import { number } from '../parameter/parameter';
import { processor } from './processor';

const time = (label: string, initial: number) =>
  number({ label, unit: 'ms', low: 0, high: 20_000, step: 5, fine: 1, initial, scale: 'log' });

/** Draws the level over a sound's time. */
export const envelope = processor({
  label: 'Envelope',
  help: 'shapes the level over time: attack, hold, decay to a level, release at the end',
  version: 1,
  singleSound: true,
  parameters: {
    attackMs: time('Attack', 0),
    holdMs: time('Hold', 50),
    decayMs: time('Decay', 300),
    sustainDb: number({ label: 'Sustain', unit: 'dB', low: -90, high: 0, step: 1, initial: -12 }),
    releaseMs: time('Release', 100),
  },
  told: ({ decayMs, sustainDb }) => `${Math.round(decayMs)} ms · ${sustainDb} dB`,
});
