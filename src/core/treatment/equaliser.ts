import { choice, list, number, toggle, type Values } from '../parameter/parameter';
import { processor } from './processor';

export const POINT = {
  kind: choice(
    'Kind',
    [
      ['bell', 'bell'],
      ['low-shelf', 'low shelf'],
      ['high-shelf', 'high shelf'],
      ['high-pass', 'high-pass'],
      ['low-pass', 'low-pass'],
      ['notch', 'notch'],
      ['band', 'one band'],
    ],
    'bell',
  ),
  active: toggle('Point', ['off', 'on'], true),
  frequencyHz: number({
    label: 'Frequency',
    unit: 'Hz',
    low: 10,
    high: 40_000,
    step: 10,
    fine: 1,
    digits: 0,
    initial: 1000,
    scale: 'log',
  }),
  gainDb: number({ label: 'Gain', unit: 'dB', low: -36, high: 36, step: 0.5, neutral: 0, initial: 0, bipolar: true }),
  /** Of bells, notches and bands: between the points of half their effect in dB, or of -3 dB. */
  widthOct: number({ label: 'Width', unit: 'oct', low: 0.02, high: 6, step: 0.1, digits: 2, initial: 1, scale: 'log' }),
  /** Of shelves: 1 is the steepest without overshoot. */
  slope: number({ label: 'Slope', unit: '', low: 0.1, high: 1, step: 0.05, digits: 2, initial: 0.7 }),
  /** Of high- and low-pass. */
  steepDb: choice(
    'Steepness',
    [6, 12, 18, 24, 30, 36, 42, 48].map((db) => [db, `${db} dB/oct`] as const),
    12,
  ),
} as const;
export type Point = Values<typeof POINT>;

/** Settings of each kind of point besides its frequency. */
export const POINT_KEYS = {
  bell: ['gainDb', 'widthOct'],
  'low-shelf': ['gainDb', 'slope'],
  'high-shelf': ['gainDb', 'slope'],
  'high-pass': ['steepDb'],
  'low-pass': ['steepDb'],
  notch: ['widthOct'],
  band: ['widthOct'],
} as const satisfies Record<Point['kind'], readonly (keyof Point)[]>;

/** Filters by points on the spectrum. */
export const equaliser = processor({
  label: 'Equaliser',
  help: 'raises and lowers parts of the spectrum: bells, shelves, high- and low-pass, notches',
  version: 1,
  parameters: { points: list('Points', POINT, 48) },
  told: ({ points }) => (points.length === 1 ? '1 point' : `${points.length} points`),
});
