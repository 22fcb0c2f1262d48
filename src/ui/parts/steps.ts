import { type TreatedHit, wholeChain } from '@/core/hit/key';
import { processorOf } from '@/core/treatment/processors';
import { valuesOf } from '@/core/treatment/step';
import { minus } from './figures';

/** The level that a hit is set to by its last level step, in words; empty where it has none. */
export function levelText(hit: TreatedHit): string {
  const level = wholeChain(hit).findLast((step) => step.processor === 'level' && step.active);
  return level ? minus(processorOf('level').told?.(valuesOf(level) as never) ?? '') : '';
}

/** What is done to a hit in words, in order, with what it inherits. */
export function stepsText(hit: TreatedHit): string {
  return wholeChain(hit)
    .filter(({ active }) => active)
    .map(({ processor }) => processorOf(processor).label)
    .join(', ');
}
