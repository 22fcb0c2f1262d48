import { choice, number } from '../parameter/parameter';
import { mix } from './mix';
import { processor } from './processor';

/** Puts a sound in a small room, or on a plate. */
export const room = processor({
  label: 'Room',
  help: 'puts the sound in a small room or on a plate; the tail it adds makes the hit longer',
  version: 1,
  parameters: {
    kind: choice(
      'Kind',
      [
        ['room', 'room'],
        ['plate', 'plate'],
      ],
      'room',
    ),
    decayS: number({
      label: 'Decay',
      unit: 's',
      low: 0.05,
      high: 5,
      step: 0.05,
      digits: 2,
      initial: 0.4,
      scale: 'log',
    }),
    sizeM: number({ label: 'Size', unit: 'm', low: 1, high: 30, step: 0.5, initial: 5, scale: 'log' }),
    distanceM: number({ label: 'Distance', unit: 'm', low: 0, high: 15, step: 0.1, initial: 1 }),
    tone: number({
      label: 'Highs last',
      unit: '%',
      low: 0.05,
      high: 1,
      step: 0.05,
      digits: 0,
      initial: 0.5,
      times: 100,
    }),
    width: number({ label: 'Width', unit: '%', low: 0, high: 1, step: 0.05, digits: 0, initial: 1, times: 100 }),
    mix: mix(0.2, 0.01),
  },
  told: ({ decayS, mix }) => `${decayS} s · ${Math.round(mix * 100)} %`,
});
