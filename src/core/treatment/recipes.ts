import { between } from './amount';
import type { ChainStep } from './chain';

/** A chain of steps for a purpose; `amount` from 0 to 1 makes it weaker or stronger. */
export interface Recipe {
  readonly name: string;
  /** What it does, in words. */
  readonly help: string;
  readonly steps: (amount: number) => readonly ChainStep[];
}

const bell = (frequencyHz: number, gainDb: number, widthOct = 1) => ({ kind: 'bell', frequencyHz, gainDb, widthOct });
const pass = (kind: 'high-pass' | 'low-pass', frequencyHz: number, steepDb = 12) => ({ kind, frequencyHz, steepDb });

/** Recipes that come with the application (common practice in preparing drum sounds). */
export const RECIPES: readonly Recipe[] = [
  {
    name: 'Clean up',
    help: 'takes room tone down and closes the tail; the attack stays',
    steps: (a) => [
      { processor: 'noise', amountDb: between(8, 30, a, 1) },
      {
        processor: 'gate',
        thresholdDb: between(-60, -36, a, 1),
        ratio: 2,
        rangeDb: between(12, 40, a, 1),
        releaseMs: 90,
      },
      { processor: 'fades', inMs: 0.5, outMs: 8 },
    ],
  },
  {
    name: 'Low end away',
    help: 'takes off what lies under the sound: rumble, handling, bleed of low drums',
    steps: (a) => [{ processor: 'equaliser', points: [pass('high-pass', between(40, 300, a, 5), 24)] }],
  },
  {
    name: 'More click',
    help: 'a harder attack and more of what makes it heard on small speakers',
    steps: (a) => [
      { processor: 'attack', attackDb: between(2, 10, a), attackMs: 25 },
      { processor: 'equaliser', points: [bell(4200, between(1, 7, a), 1.4)] },
    ],
  },
  {
    name: 'More body',
    help: 'a fuller middle and a denser, longer sound after the attack',
    steps: (a) => [
      { processor: 'attack', bodyDb: between(1, 7, a) },
      { processor: 'equaliser', points: [bell(190, between(1, 5, a), 1.2)] },
      {
        processor: 'saturation',
        character: 'round',
        driveDb: between(2, 10, a),
        outputDb: between(-1, -5, a),
        mix: 0.4,
      },
    ],
  },
  {
    name: 'Tighter',
    help: 'a shorter tail that falls evenly',
    steps: (a) => [{ processor: 'length', to: 'level', levelDb: between(-50, -18, a, 1), fadeShare: 0.6 }],
  },
  {
    name: 'Dense',
    help: 'level differences inside the sound become small: loud and near',
    steps: (a) => [
      {
        processor: 'compressor',
        thresholdDb: between(-14, -34, a, 1),
        ratio: between(2.5, 8, a),
        attackMs: 4,
        releaseMs: 90,
        makeUpDb: between(2, 9, a),
      },
      { processor: 'limiter', ceilingDbtp: -1 },
    ],
  },
  {
    name: 'Broken',
    help: 'cut and folded: a worn machine at the edge',
    steps: (a) => [
      {
        processor: 'saturation',
        character: 'fold',
        driveDb: between(4, 20, a),
        outputDb: between(-4, -12, a),
        mix: between(0.3, 0.9, a, 0.05),
      },
      { processor: 'equaliser', points: [pass('high-pass', 60), pass('low-pass', between(12_000, 5000, a, 100))] },
    ],
  },
  {
    name: 'From the next room',
    help: 'dark, behind a wall, with the room it came through',
    steps: (a) => [
      { processor: 'equaliser', points: [pass('low-pass', between(7000, 900, a, 50), 18)] },
      {
        processor: 'room',
        decayS: between(0.3, 1.2, a, 0.05),
        sizeM: between(4, 12, a),
        distanceM: 3,
        tone: 0.3,
        mix: between(0.15, 0.6, a, 0.01),
      },
    ],
  },
  {
    name: 'Even level',
    help: 'to one loudness, with noise held down and true peaks under -1 dB',
    steps: (a) => [
      { processor: 'level', to: 'loudness', loudnessLufs: between(-26, -14, a), noiseDbfs: -60 },
      { processor: 'limiter', ceilingDbtp: -1 },
    ],
  },
];
