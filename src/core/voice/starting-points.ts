import type { Family } from '../family';
import { filled } from '../parameter/values';
import { OFF_DB, VOICE_PARAMETERS, type VoiceSettings } from './parameters';

/** A voice to begin from. */
export interface StartingPoint {
  readonly name: string;
  readonly family: Family;
  readonly voice: VoiceSettings;
}

function point(name: string, family: Family, set: Partial<VoiceSettings>): StartingPoint {
  return { name, family, voice: filled(VOICE_PARAMETERS, set) };
}

const NO_TONE = { toneDb: OFF_DB };

/** Starting points of our own, by kind. */
export const STARTING_POINTS: readonly StartingPoint[] = [
  point('Deep kick', 'kick', {
    ...{ toneHz: 48, sweep: 30, sweepMs: 110, toneDecayMs: 420, clickDb: -16, clickHz: 1800, driveDb: 3 },
    ...{ noiseDb: -34, noiseKind: 'low', noiseHz: 900, noiseDecayMs: 30 },
  }),
  point('Tight kick', 'kick', {
    ...{ toneHz: 47, sweep: 44, sweepMs: 58, toneDecayMs: 270, clickDb: -9, clickHz: 3200, driveDb: 6.5 },
    ...{ noiseDb: -22, noiseKind: 'low', noiseHz: 1500, noiseDecayMs: 20 },
  }),
  point('Wire snare', 'snare', {
    ...{ toneDb: -8, toneHz: 185, sweep: 7, sweepMs: 40, toneDecayMs: 150, second: 0.6, clickDb: -14, clickHz: 3500 },
    ...{ noiseDb: -3, noiseKind: 'high', noiseHz: 1400, noiseDecayMs: 210, driveDb: 2 },
  }),
  point('Dry snare', 'snare', {
    ...{ toneDb: -6, toneHz: 225, sweep: 9, sweepMs: 30, toneDecayMs: 100, second: 0.7, clickDb: -10, clickHz: 4000 },
    ...{ noiseDb: -4, noiseKind: 'band', noiseHz: 3200, noiseQ: 0.6, noiseDecayMs: 130 },
  }),
  point('Rim click', 'rim', {
    ...{
      toneDb: -4,
      toneHz: 1580,
      sweep: 0,
      toneDecayMs: 12,
      secondRatio: 1.4,
      second: 0.8,
      clickDb: -3.5,
      clickHz: 4200,
    },
    ...{ noiseDb: -9, noiseKind: 'band', noiseHz: 4500, noiseDecayMs: 32 },
  }),
  point('Hand clap', 'clap', {
    ...NO_TONE,
    ...{ noiseDb: 0, noiseKind: 'band', noiseHz: 1250, noiseQ: 1.6, noiseDecayMs: 170, bursts: 4, spacingMs: 11 },
    ...{ softDark: 0.5, driveDb: 4 },
  }),
  point('Closed hat', 'closed hat', {
    ...NO_TONE,
    ...{ noiseDb: -6, noiseKind: 'high', noiseHz: 10_000, noiseDecayMs: 95 },
    ...{ metalDb: -14, metalHz: 4740, metalStretch: 1.05, metalTilt: -5, metalDecayMs: 30, metalDamping: 0.4 },
  }),
  point('Open hat', 'open hat', {
    ...NO_TONE,
    ...{ noiseDb: 0, noiseKind: 'high', noiseHz: 8300, noiseDecayMs: 785 },
    ...{ metalDb: -11, metalHz: 5000, metalStretch: 0.55, metalTilt: -1, metalDecayMs: 1200, metalDamping: 0 },
  }),
  point('Crash', 'cymbal', {
    ...NO_TONE,
    ...{ noiseDb: -2.5, noiseKind: 'high', noiseHz: 1200, noiseDecayMs: 4000 },
    ...{ metalDb: -6.5, metalHz: 1810, metalStretch: 0.6, metalTilt: -8, metalDecayMs: 4500, metalDamping: 0.2 },
  }),
  point('Ride', 'cymbal', {
    ...NO_TONE,
    ...{ noiseDb: -7, noiseKind: 'high', noiseHz: 6500, noiseDecayMs: 600, clickDb: -10, clickHz: 6000 },
    ...{ metalDb: -13, metalHz: 1870, metalStretch: 0.55, metalTilt: -4.5, metalDecayMs: 4500, metalDamping: 0 },
  }),
  point('Low tom', 'tom', {
    ...{ toneHz: 98, sweep: 9, sweepMs: 160, toneDecayMs: 440, second: 0.1, clickDb: -13, clickHz: 1500 },
    ...{ noiseDb: -34, noiseKind: 'band', noiseHz: 900, noiseDecayMs: 60 },
  }),
  point('High tom', 'tom', {
    ...{ toneHz: 168, sweep: 6, sweepMs: 120, toneDecayMs: 380, second: 0.25, clickDb: -16, clickHz: 2200 },
    ...{ noiseDb: -28, noiseKind: 'band', noiseHz: 1400, noiseDecayMs: 50 },
  }),
  point('Cow bell', 'percussion', {
    ...{
      toneDb: -4,
      toneHz: 545,
      sweep: 0,
      toneDecayMs: 340,
      secondRatio: 1.48,
      second: 0.9,
      clickDb: -10,
      clickHz: 3000,
    },
    ...{ metalDb: -18, metalHz: 545, metalStretch: 1.1, metalDecayMs: 160, driveDb: 8 },
  }),
  point('Wood block', 'percussion', {
    ...{ toneDb: -2, toneHz: 880, sweep: 2, sweepMs: 20, toneDecayMs: 75, secondRatio: 2.57, second: 0.4, clickDb: -8 },
  }),
  point('Shaker', 'percussion', {
    ...NO_TONE,
    ...{ noiseDb: -4, noiseKind: 'band', noiseHz: 5500, noiseQ: 3, noiseAttackMs: 30, noiseDecayMs: 60, softDark: 0.3 },
  }),
  point('Triangle', 'percussion', {
    ...NO_TONE,
    ...{ metalDb: 0, metalHz: 1150, metalStretch: 1.6, metalTilt: -2, metalDecayMs: 2200, metalDamping: 0.05 },
    ...{ clickDb: -14, clickHz: 7000 },
  }),
];
