import type { Stored } from '@/contract/documents';
import type { StoredHit } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import type { Step } from '@/core/treatment/step';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** Longest hit that can be treated: a treated hit is held whole in memory. */
export const LONGEST_TREATED_S = 120;

/** Hits with their steps, in the given order. */
export function withSteps(db: Db, hits: readonly Stored<Hit>[]): StoredHit[] {
  if (hits.length === 0) return [];
  const steps = new Map<string, Stored<Step>[]>();
  const ids = JSON.stringify(hits.map(({ id }) => id));
  for (const step of select(
    db,
    'step',
    'WHERE hit_id IN (SELECT value FROM json_each(?)) ORDER BY position, id',
    ids,
  )) {
    const of = steps.get(step.hitId);
    if (of) of.push(step);
    else steps.set(step.hitId, [step]);
  }
  return hits.map((hit) => ({ ...hit, steps: steps.get(hit.id) ?? [] }));
}

/** One hit with its steps; null where it does not exist. */
export function treatedHit(db: Db, id: string): StoredHit | null {
  return withSteps(db, select(db, 'hit', 'WHERE id = ?', id))[0] ?? null;
}
