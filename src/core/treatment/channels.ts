import { choice, toggle } from '../parameter/parameter';
import { processor } from './processor';

/** Takes one channel, the middle, the side or a mixture, and turns the polarity. */
export const channels = processor({
  label: 'Channels',
  help: 'takes one channel, the middle, the side or a mixture; turns the polarity',
  version: 1,
  parameters: {
    take: choice(
      'Channels',
      [
        ['all', 'as they are'],
        ['left', 'left'],
        ['right', 'right'],
        ['mid', 'middle'],
        ['side', 'side'],
        ['swap', 'swapped'],
        ['mono', 'mono'],
      ],
      'all',
    ),
    invert: toggle('Polarity', ['as it is', 'inverted'], false),
  },
});
