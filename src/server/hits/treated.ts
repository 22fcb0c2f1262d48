import type { Stored } from '@/contract/documents';
import type { StoredHit } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import type { RecordingStep } from '@/core/treatment/step';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** Longest hit that can be treated: a treated hit is held whole in memory. */
export const LONGEST_TREATED_S = 120;

/** Hits with their steps, in the given order. */
export function withSteps(db: Db, hits: readonly Stored<Hit>[]): StoredHit[] {
  if (hits.length === 0) return [];
  const ids = JSON.stringify(hits.map(({ id }) => id));
  const steps = grouped(
    select(db, 'step', 'WHERE hit_id IN (SELECT value FROM json_each(?)) ORDER BY position, id', ids),
    ({ hitId }) => hitId,
  );
  const inherited = stepsOfRecordings(db, [...new Set(hits.map(({ recordingId }) => recordingId))]);
  return hits.map((hit) => ({
    ...hit,
    inherited: inherited.get(hit.recordingId) ?? [],
    steps: steps.get(hit.id) ?? [],
  }));
}

/** The steps of recordings, by recording, in order; those without steps are left out. */
export function stepsOfRecordings(db: Db, ids: readonly string[]): ReadonlyMap<string, Stored<RecordingStep>[]> {
  const rows = select(
    db,
    'recordingStep',
    'WHERE recording_id IN (SELECT value FROM json_each(?)) ORDER BY position, id',
    JSON.stringify(ids),
  );
  return grouped(rows, ({ recordingId }) => recordingId);
}

/** One hit with its steps; null where it does not exist. */
export function treatedHit(db: Db, id: string): StoredHit | null {
  return withSteps(db, select(db, 'hit', 'WHERE id = ?', id))[0] ?? null;
}

function grouped<T>(rows: readonly T[], of: (row: T) => string): ReadonlyMap<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const group = groups.get(of(row));
    if (group) group.push(row);
    else groups.set(of(row), [row]);
  }
  return groups;
}
