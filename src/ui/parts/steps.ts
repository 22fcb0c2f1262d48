import { processorOf } from '@/core/treatment/processors';
import { type Step, valuesOf } from '@/core/treatment/step';
import { decibels, minus } from './figures';

interface Treated {
  readonly steps: readonly Step[];
}

/** Target of a hit's level step in a few characters; empty where there is none. */
export function levelText({ steps }: Treated): string {
  const level = steps.findLast((step) => step.processor === 'level' && step.active);
  if (!level) return '';
  const { to, gainDb, peakDbfs, loudnessLufs } = valuesOf(level) as Record<string, number> & { to: string };
  if (to === 'peak') return `${minus((peakDbfs ?? 0).toFixed(1))} dBFS`;
  if (to === 'loudness') return `${minus((loudnessLufs ?? 0).toFixed(1))} LUFS`;
  return `${(gainDb ?? 0) > 0 ? '+' : ''}${decibels(gainDb ?? 0)}`;
}

/** A hit's steps in words, in order. */
export function stepsText({ steps }: Treated): string {
  return steps
    .filter(({ active }) => active)
    .map(({ processor }) => processorOf(processor).label)
    .join(', ');
}
