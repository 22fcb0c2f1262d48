import { pitchRatio } from '../signal/units';
import { type Step, valuesOf } from '../treatment/step';
import type { TreatedHit } from './key';

/** What a step does to the pitch, as a ratio of frequencies. */
function ratioOf(step: Step): number {
  if (!step.active || step.processor !== 'tune') return 1;
  const { semitones, cents } = valuesOf(step) as unknown as { semitones: number; cents: number };
  return pitchRatio(semitones, cents);
}

/** The pitch before and after a hit's steps where it was set, in hertz; null where it was not. */
export function settledRoots({
  rootHz,
  steps,
}: Pick<TreatedHit, 'rootHz' | 'steps'>): { was: number; now: number } | null {
  if (rootHz === null) return null;
  return { was: rootHz, now: steps.reduce((hz, step) => hz * ratioOf(step), rootHz) };
}
