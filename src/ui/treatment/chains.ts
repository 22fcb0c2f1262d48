import type { Change } from '@/contract/edits';
import type { StoredHit } from '@/contract/views';
import { type ChainStep, chainOf } from '@/core/treatment/chain';
import type { ProcessorName } from '@/core/treatment/processors';
import type { Step } from '@/core/treatment/step';
import { createStore } from '../parts/store';

/** Steps that set the level stay last: what comes after them would change it again. */
const LAST: ReadonlySet<ProcessorName> = new Set(['level', 'limiter']);

/** Where a new step goes among others: at the end, or before those at the end that set the level. */
export function placeForNew(steps: readonly Step[], processor: ProcessorName): number {
  const ends = LAST.has(processor) ? 0 : steps.length - 1 - steps.findLastIndex((step) => !LAST.has(step.processor));
  const at = steps.length - ends;
  return between(steps[at - 1], steps[at]);
}

/** A position between two steps, either of which may be absent. */
export function between(before: Step | undefined, after: Step | undefined): number {
  if (!before) return after ? after.position - 1 : 0;
  return after ? (before.position + after.position) / 2 : before.position + 1;
}

/** The changes that add a chain to each of some hits, each step where new ones go. */
export function addChain(hits: readonly StoredHit[], chain: readonly ChainStep[], newId: () => string): Change[] {
  return hits.flatMap((hit) => {
    let steps: readonly Step[] = hit.steps;
    return chain.map((step): Change => {
      const id = newId();
      const value = { hitId: hit.id, active: true, ...step, position: placeForNew(steps, step.processor) };
      steps = [...steps, { id, ...value } as Step].sort((a, b) => a.position - b.position);
      return { op: 'create', doc: 'step', id, value };
    });
  });
}

export interface CopiedChain {
  /** The hit it was copied from. */
  readonly from: string;
  readonly chain: readonly ChainStep[];
}

/** The steps that were copied last, on this page. */
export const copiedChain = createStore<CopiedChain | null>(null);

export function copySteps(hit: StoredHit): void {
  copiedChain.set({ from: hit.name, chain: chainOf(hit.steps) });
}
