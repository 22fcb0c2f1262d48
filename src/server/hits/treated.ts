import type { Stored } from '@/contract/documents';
import { resolvedHits } from '@/contract/resolved';
import type { HitDocs, StoredHit, StoredMember } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import type { RecordingStep } from '@/core/treatment/step';
import type { Db } from '../db/open';
import { select } from '../history/tables';

/** Longest hit that can be treated: a treated hit is held whole in memory. */
export const LONGEST_TREATED_S = 120;

const IN_ORDER = 'ORDER BY position, id';

/** Hits with their own documents, in the given order. */
export function hitDocs(db: Db, hits: readonly Stored<Hit>[]): HitDocs[] {
  if (hits.length === 0) return [];
  const ids = JSON.stringify(hits.map(({ id }) => id));
  const steps = grouped(
    select(db, 'step', `WHERE hit_id IN (SELECT value FROM json_each(?)) ${IN_ORDER}`, ids),
    ({ hitId }) => hitId,
  );
  const inherited = stepsOfRecordings(db, [...new Set(hits.map(({ recordingId }) => recordingId))]);
  const members = grouped(membersOf(db, ids), ({ layeredId }) => layeredId);
  return hits.map((hit) => ({
    ...hit,
    inherited: inherited.get(hit.recordingId) ?? [],
    steps: steps.get(hit.id) ?? [],
    members: members.get(hit.id) ?? [],
  }));
}

/** Some hits by id, and after them those of their layers, at any depth. */
export function hitsWithLayers(db: Db, ids: readonly string[]): HitDocs[] {
  const found = new Map<string, HitDocs>();
  for (let wanted = ids; wanted.length > 0; ) {
    const rows = select(db, 'hit', 'WHERE id IN (SELECT value FROM json_each(?))', JSON.stringify(wanted));
    const docs = hitDocs(db, rows);
    for (const hit of docs) found.set(hit.id, hit);
    wanted = docs.flatMap((hit) => hit.members.map(({ hitId }) => hitId)).filter((id) => !found.has(id));
  }
  return [...found.values()];
}

/** Hits with everything they are made of, in the given order; unknown ones are left out. */
export function treatedHits(db: Db, ids: readonly string[]): StoredHit[] {
  const byId = new Map(resolvedHits(hitsWithLayers(db, ids)).map((hit) => [hit.id, hit]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** One hit with everything it is made of; null where it does not exist. */
export function treatedHit(db: Db, id: string): StoredHit | null {
  return treatedHits(db, [id])[0] ?? null;
}

/** The steps of recordings, by recording, in order; those without steps are left out. */
export function stepsOfRecordings(db: Db, ids: readonly string[]): ReadonlyMap<string, Stored<RecordingStep>[]> {
  const rows = select(
    db,
    'recordingStep',
    `WHERE recording_id IN (SELECT value FROM json_each(?)) ${IN_ORDER}`,
    JSON.stringify(ids),
  );
  return grouped(rows, ({ recordingId }) => recordingId);
}

/** The layers of hits with their own steps; `ids` as JSON. */
function membersOf(db: Db, ids: string): StoredMember[] {
  const members = select(db, 'member', `WHERE layered_id IN (SELECT value FROM json_each(?)) ${IN_ORDER}`, ids);
  if (members.length === 0) return [];
  const steps = grouped(
    select(
      db,
      'memberStep',
      `WHERE member_id IN (SELECT value FROM json_each(?)) ${IN_ORDER}`,
      JSON.stringify(members.map(({ id }) => id)),
    ),
    ({ memberId }) => memberId,
  );
  return members.map((member) => ({ ...member, steps: steps.get(member.id) ?? [] }));
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
