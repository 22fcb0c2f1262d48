import { list, number } from '../parameter/parameter';
import { MAX_CUTS } from '../play/limits';
import { processor } from './processor';

const BPM = { unit: 'BPM', low: 10, high: 1000, step: 1, fine: 0.1, neutral: 120, initial: 120 };

/** Where a stroke begins, from the first frame of the sound. */
export const STROKE = {
  atMs: number({ label: 'At', unit: 'ms', low: 0, high: 600_000, step: 1, digits: 3, initial: 0 }),
} as const;

/** Makes a loop faster or slower: each stroke keeps its attack and its pitch. */
export const tempo = processor({
  label: 'Tempo',
  help: 'makes a loop faster or slower with its pitch kept; every stroke keeps its attack',
  version: 1,
  singleSound: true,
  parameters: {
    fromBpm: number({ label: 'Its tempo', ...BPM }),
    toBpm: number({ label: 'Goes to', ...BPM }),
    /** Where its strokes begin; found in the sound where none are given. */
    strokes: list('Strokes', STROKE, MAX_CUTS),
  },
  told: ({ fromBpm, toBpm }) => `${Math.round(fromBpm)} to ${Math.round(toBpm)} BPM`,
});
