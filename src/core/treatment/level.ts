import { choice, number, optional, type Values } from '../parameter/parameter';
import { fromDb, toDb } from '../signal/units';
import { type Measured, processor } from './processor';

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
      ['true-peak', 'a true peak'],
      ['rms', 'an average'],
      ['loudness', 'a loudness'],
    ],
    'gain',
  ),
  gainDb: number({ label: 'Gain', unit: 'dB', low: -60, high: 60, step: 0.5, neutral: 0, initial: 0, bipolar: true }),
  peakDbfs: number({ label: 'Peak', unit: 'dBFS', low: -60, high: 0, step: 0.5, initial: -1 }),
  truePeakDbtp: number({ label: 'True peak', unit: 'dBTP', low: -60, high: 0, step: 0.5, initial: -1 }),
  /** Root mean square of the loudest 50 ms. */
  rmsDbfs: number({ label: 'Average', unit: 'dBFS', low: -60, high: 0, step: 0.5, initial: -18 }),
  loudnessLufs: number({ label: 'Loudness', unit: 'LUFS', low: -60, high: 0, step: 0.5, initial: -18 }),
  /** The noise is lifted no higher than this, whatever is asked for. */
  noiseDbfs: optional({
    label: 'Noise stays under',
    unit: 'dBFS',
    low: -120,
    high: 0,
    step: 1,
    none: { label: 'not heeded', first: -60 },
    said: 'noise guard',
  }),
};

/** Sets a sound's level: by a gain, to a peak, or to a momentary loudness (ITU-R BS.1770-5, EBU Tech 3341) under full scale. */
export const level = processor({
  label: 'Level',
  help: 'sets the level by a gain, to a peak, or to a loudness',
  version: 1,
  parameters,
  told,
  gain: gainOf,
});

function gainOf(measured: () => Measured, values: Values<typeof parameters>): number {
  const wanted = wantedGain(measured, values);
  if (values.noiseDbfs === null || wanted <= 1) return wanted;
  const room = values.noiseDbfs - measured().noiseDbfs;
  return Math.min(wanted, Math.max(1, fromDb(room)));
}

function wantedGain(measured: () => Measured, values: Values<typeof parameters>): number {
  switch (values.to) {
    case 'gain':
      return fromDb(values.gainDb);
    case 'peak':
      return gainToPeak(measured().peak, values.peakDbfs);
    case 'true-peak':
      return gainToPeak(measured().truePeak, values.truePeakDbtp);
    case 'rms':
      return gainToPeak(measured().rms, values.rmsDbfs);
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

/** What a level goes to, in a few characters. */
function told(values: Values<typeof parameters>): string {
  switch (values.to) {
    case 'gain':
      return `${values.gainDb > 0 ? '+' : ''}${values.gainDb.toFixed(1)} dB`;
    case 'peak':
      return `${values.peakDbfs.toFixed(1)} dBFS`;
    case 'true-peak':
      return `${values.truePeakDbtp.toFixed(1)} dBTP`;
    case 'rms':
      return `${values.rmsDbfs.toFixed(1)} dBFS average`;
    case 'loudness':
      return `${values.loudnessLufs.toFixed(1)} LUFS`;
  }
}
