import type { Change } from '@/contract/edits';
import { clip } from '@/core/parameter/values';
import { type ChainStep, chainOf } from '@/core/treatment/chain';
import { level } from '@/core/treatment/level';
import type { ProcessorName } from '@/core/treatment/processors';
import type { Step } from '@/core/treatment/step';
import { createStore } from '../parts/store';
import type { Subject } from './subject';

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

/** What steps are added to: their kind, the field that names their owner, and the steps that are there. */
export type Chained = Pick<Subject, 'doc' | 'owner' | 'steps'>;

/** The changes that add a chain to each of some subjects, each step where new ones go. */
export function addChain(subjects: readonly Chained[], chain: readonly ChainStep[], newId: () => string): Change[] {
  return subjects.flatMap(({ doc, owner, steps: there }) => {
    let steps: readonly Step[] = there;
    return chain.map((step): Change => {
      const id = newId();
      const value = { ...owner, active: true, ...step, position: placeForNew(steps, step.processor) };
      steps = [...steps, { id, ...value } as Step].sort((a, b) => a.position - b.position);
      return { op: 'create', doc, id, value };
    });
  });
}

/** The change that makes a sound louder by so many dB: the gain at its end is moved, or one is added. */
export function louderBy({ doc, owner, steps }: Chained, db: number, newId: () => string): Change {
  const last = steps.at(-1);
  if (last?.processor === 'level' && last.active && (last.to ?? 'gain') === 'gain') {
    const gainDb = clip(level.parameters.gainDb, ((last.gainDb as number | undefined) ?? 0) + db);
    return { op: 'update', doc, id: last.id, rev: last.rev, set: { gainDb } };
  }
  const value = { ...owner, processor: 'level', position: between(last, undefined), gainDb: db };
  return { op: 'create', doc, id: newId(), value };
}

export interface CopiedChain {
  /** The hit it was copied from. */
  readonly from: string;
  readonly chain: readonly ChainStep[];
}

/** The steps that were copied last, on this page. */
export const copiedChain = createStore<CopiedChain | null>(null);

export function copySteps({ name, steps }: Pick<Subject, 'name' | 'steps'>): void {
  copiedChain.set({ from: name, chain: chainOf(steps) });
}
