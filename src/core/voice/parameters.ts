import { choice, number, type Values } from '../parameter/parameter';

/** At this level, in dB, a part of the voice is off. */
export const OFF_DB = -60;

const level = (label: string, initial: number) =>
  number({ label, unit: 'dB', low: OFF_DB, high: 6, step: 0.5, initial });
const time = (label: string, low: number, high: number, initial: number) =>
  number({ label, unit: 'ms', low, high, step: low < 1 ? 0.5 : 5, initial, scale: 'log' });
const hz = (label: string, low: number, high: number, initial: number) =>
  number({ label, unit: 'Hz', low, high, step: 1, digits: 0, initial, scale: 'log' });

/**
 * The struck voice: a tone with a sweep, noise through a filter, metal and a click, driven and in a room. A decay lasts until
 * its part has fallen by 60 dB, as a reverberation time does (ISO 3382-1), a sweep until 1 % of it is left.
 */
export const VOICE_PARAMETERS = {
  toneDb: level('Tone', 0),
  toneHz: hz('Tone pitch', 20, 8000, 60),
  sweep: number({ label: 'Sweep', unit: 'st', low: -48, high: 60, step: 1, initial: 24, bipolar: true }),
  sweepMs: time('Sweep time', 1, 2000, 80),
  toneAttackMs: number({ label: 'Tone attack', unit: 'ms', low: 0, high: 200, step: 0.5, initial: 0 }),
  toneDecayMs: time('Tone decay', 5, 8000, 400),
  secondRatio: number({ label: 'Second mode', unit: 'times', low: 1, high: 4, step: 0.01, digits: 3, initial: 1.593 }),
  second: number({
    label: 'Second level',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.05,
    digits: 0,
    initial: 0,
    times: 100,
  }),
  noiseDb: level('Noise', OFF_DB),
  noiseKind: choice(
    'Noise passes',
    [
      ['low', 'what is low'],
      ['band', 'a band'],
      ['high', 'what is high'],
    ],
    'high',
  ),
  noiseHz: hz('Noise filter', 40, 18_000, 2000),
  noiseQ: number({
    label: 'Noise resonance',
    unit: 'Q',
    low: 0.5,
    high: 12,
    step: 0.1,
    digits: 2,
    initial: 0.7,
    scale: 'log',
  }),
  noiseAttackMs: number({ label: 'Noise attack', unit: 'ms', low: 0, high: 200, step: 0.5, initial: 0 }),
  noiseDecayMs: time('Noise decay', 2, 8000, 150),
  bursts: number({ label: 'Bursts', unit: '', low: 1, high: 8, step: 1, initial: 1, whole: true }),
  spacingMs: number({ label: 'Apart', unit: 'ms', low: 2, high: 60, step: 0.5, initial: 10 }),
  metalDb: level('Metal', OFF_DB),
  metalHz: hz('Metal pitch', 40, 6000, 400),
  metalStretch: number({ label: 'Metal spread', unit: '', low: 0.5, high: 2.2, step: 0.05, digits: 2, initial: 1.4 }),
  metalTilt: number({ label: 'Metal tilt', unit: 'dB/oct', low: -18, high: 12, step: 0.5, initial: 0, bipolar: true }),
  metalDecayMs: time('Metal decay', 5, 12_000, 800),
  metalDamping: number({
    label: 'Highs die sooner',
    unit: '%',
    low: 0,
    high: 2,
    step: 0.05,
    digits: 0,
    initial: 0.3,
    times: 100,
  }),
  clickDb: level('Click', OFF_DB),
  clickHz: hz('Click pitch', 100, 12_000, 2500),
  driveDb: number({ label: 'Drive', unit: 'dB', low: 0, high: 36, step: 0.5, neutral: 0, initial: 0 }),
  room: number({
    label: 'Room',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.05,
    digits: 0,
    neutral: 0,
    initial: 0,
    times: 100,
  }),
  roomS: number({
    label: 'Room decay',
    unit: 's',
    low: 0.05,
    high: 5,
    step: 0.05,
    digits: 2,
    initial: 0.4,
    scale: 'log',
  }),
  levelDb: number({
    label: 'Level',
    unit: 'dB',
    low: -36,
    high: 12,
    step: 0.5,
    neutral: 0,
    initial: -3,
    bipolar: true,
  }),
  /** How much softer the softest stroke is than the hardest. */
  softDb: number({ label: 'Softest less', unit: 'dB', low: 0, high: 48, step: 1, initial: 30 }),
  /** How much darker and shorter, in octaves of the noise filter. */
  softDark: number({ label: 'Soft is darker', unit: 'octaves', low: 0, high: 4, step: 0.1, initial: 1 }),
  variation: number({
    label: 'Variation',
    unit: '%',
    low: 0,
    high: 1,
    step: 0.05,
    digits: 0,
    neutral: 0,
    initial: 0.3,
    times: 100,
  }),
};

export type VoiceSettings = Values<typeof VOICE_PARAMETERS>;
