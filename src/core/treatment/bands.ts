import { number } from '../parameter/parameter';
import { processor } from './processor';

const edge = (label: string, initial: number) =>
  number({ label, unit: 'Hz', low: 30, high: 12_000, step: 1, digits: 0, initial, scale: 'log' });
const threshold = (label: string) =>
  number({ label, unit: 'dBFS', low: -80, high: 0, step: 0.5, initial: -24, said: label.toLowerCase() });
const gain = (label: string) =>
  number({ label, unit: 'dB', low: -24, high: 24, step: 0.5, initial: 0, neutral: 0, bipolar: true });

/** Three compressors, each on a band of its own. */
export const bands = processor({
  label: 'Compressor in three bands',
  help: 'compresses lows, middle and highs apart, so that one does not pump the others: binds layers',
  version: 1,
  parameters: {
    lowEdgeHz: edge('Lows under', 150),
    highEdgeHz: edge('Highs over', 2500),
    lowThresholdDb: threshold('Lows from'),
    middleThresholdDb: threshold('Middle from'),
    highThresholdDb: threshold('Highs from'),
    ratio: number({ label: 'Ratio', unit: 'to 1', low: 1, high: 40, step: 0.5, neutral: 1, initial: 3, scale: 'log' }),
    attackMs: number({ label: 'Attack', unit: 'ms', low: 0, high: 500, step: 1, initial: 10, scale: 'log' }),
    releaseMs: number({ label: 'Release', unit: 'ms', low: 1, high: 5000, step: 5, initial: 120, scale: 'log' }),
    lowGainDb: gain('Lows'),
    middleGainDb: gain('Middle'),
    highGainDb: gain('Highs'),
    mix: number({ label: 'Mix', unit: '%', low: 0, high: 1, step: 0.05, digits: 0, initial: 1, times: 100 }),
  },
  told: ({ lowEdgeHz, highEdgeHz, ratio }) => `${lowEdgeHz}, ${highEdgeHz} Hz · ${ratio} to 1`,
});
