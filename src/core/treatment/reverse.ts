import { processor } from './processor';

/** Plays a sound from its end to its beginning. */
export const reverse = processor({
  label: 'Reverse',
  help: 'plays the sound from its end to its beginning',
  version: 1,
  singleSound: true,
  parameters: {},
});
