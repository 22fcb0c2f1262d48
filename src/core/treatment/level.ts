import { choice, number, type Values } from '../parameter/parameter';
import { fromDb, toDb } from '../signal/units';
import { amplified, type Measured, processor } from './processor';

/** Levelling by loudness never raises a peak above this (project's choice: room for peaks between samples). */
const HIGHEST_PEAK_DBFS = -0.5;
/** Audio below this is silence, which is not amplified. */
const MOST_GAIN_DB = 60;

const parameters = {
  to: choice(
    'Level to',
    [
      ['gain', 'a gain'],
      ['peak', 'a peak'],
      ['loudness', 'a loudness'],
    ],
    'gain',
  ),
  gainDb: number({ label: 'Gain', unit: 'dB', low: -60, high: 60, step: 0.5, initial: 0, bipolar: true }),
  peakDbfs: number({ label: 'Peak', unit: 'dBFS', low: -60, high: 0, step: 0.5, initial: -1 }),
  loudnessLufs: number({ label: 'Loudness', unit: 'LUFS', low: -60, high: 0, step: 0.5, initial: -18 }),
};

/** Sets a sound's level: by a gain, to a peak, or to a momentary loudness (ITU-R BS.1770-5, EBU Tech 3341) under full scale. */
export const level = processor({
  label: 'Level',
  version: 1,
  parameters,
  process: (audio, values, measure) =>
    amplified(
      audio,
      gainOf(() => measure(audio), values),
    ),
  gain: gainOf,
});

function gainOf(measured: () => Measured, values: Values<typeof parameters>): number {
  switch (values.to) {
    case 'gain':
      return fromDb(values.gainDb);
    case 'peak':
      return gainToPeak(measured().peak, values.peakDbfs);
    case 'loudness': {
      const { peak, momentaryLufs } = measured();
      const peakDb = toDb(peak);
      if (!Number.isFinite(peakDb)) return 1;
      const wanted = Math.min(values.loudnessLufs - momentaryLufs, HIGHEST_PEAK_DBFS - peakDb);
      return Number.isFinite(wanted) ? fromDb(Math.max(-MOST_GAIN_DB, Math.min(MOST_GAIN_DB, wanted))) : 1;
    }
  }
}

/** The linear gain that brings a peak to a level; 1 for silence. */
export function gainToPeak(peak: number, dbfs: number): number {
  return peak === 0 ? 1 : fromDb(dbfs) / peak;
}
