import { initialValues } from '@/core/parameter/values';
import { hzToNote } from '@/core/signal/units';
import { POINT } from '@/core/treatment/equaliser';
import type { ProcessorName } from '@/core/treatment/processors';

/** What is known of a sound as it is now. */
export interface Known {
  readonly rootHz: number | null;
  readonly lengthMs: number;
}

/** A step that nearly every hit gets (common practice in preparing drum sounds), with values that fit the sound. */
export interface QuickStep {
  readonly label: string;
  readonly title: string;
  readonly processor: ProcessorName;
  readonly values: (known: Known) => Readonly<Record<string, unknown>>;
}

const pass = (kind: 'high-pass' | 'low-pass', frequencyHz: number) => ({
  points: [{ ...initialValues(POINT), kind, frequencyHz: Math.round(frequencyHz), steepDb: 24 }],
});

export const QUICK_STEPS: readonly QuickStep[] = [
  {
    label: 'Noise down',
    title: 'Takes room tone down, learnt from the quietest moment of the recording',
    processor: 'noise',
    values: () => ({}),
  },
  {
    label: 'Lows away',
    title: 'A high-pass under the root of the sound',
    processor: 'equaliser',
    values: ({ rootHz }) => pass('high-pass', Math.max(25, Math.min(400, rootHz === null ? 90 : rootHz * 0.6))),
  },
  {
    label: 'Highs away',
    title: 'A low-pass over 8 kHz',
    processor: 'equaliser',
    values: () => pass('low-pass', 8000),
  },
  {
    label: 'Thicker',
    title: 'Rounded peaks mixed in: denser, with more overtones',
    processor: 'saturation',
    values: () => ({ driveDb: 9, outputDb: -4, mix: 0.5 }),
  },
  {
    label: 'Shorter',
    title: 'Two thirds of its length, the tail faded',
    processor: 'length',
    values: ({ lengthMs }) => ({ timeMs: Math.max(10, Math.round((lengthMs * 2) / 3)) }),
  },
  {
    label: 'Tune',
    title: 'To the nearest note; to another one by the rows',
    processor: 'tune',
    values: ({ rootHz }) => (rootHz === null ? {} : { cents: -Math.round(hzToNote(rootHz).cents * 10) / 10 + 0 }),
  },
  {
    label: 'Level',
    title: 'True peak to −1 dB',
    processor: 'level',
    values: () => ({ to: 'true-peak' }),
  },
];
