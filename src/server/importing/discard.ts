import type { Dependents } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** The hits of a recording, and the layered hits that have one of them as a layer, at any depth. */
const MADE_OF = `WITH RECURSIVE made (id) AS (
  SELECT id FROM hit WHERE recording_id = ? UNION SELECT m.layered_id FROM member m JOIN made ON m.hit_id = made.id)`;

/** What would lose its sound with a recording: its hits, and the pads that play them. */
export function dependentsOf(db: Db, recordingId: string): Dependents {
  const hits = prepared(
    db,
    `${MADE_OF} SELECT id, name FROM hit WHERE id IN (SELECT id FROM made) ORDER BY name COLLATE NOCASE`,
  ).all(recordingId) as Dependents['hits'];
  const pads = prepared(
    db,
    `${MADE_OF} SELECT DISTINCT p.name AS pad, k.name AS kit FROM hit h JOIN layer l ON l.hit_id = h.id JOIN pad p ON p.id = l.pad_id
     JOIN kit k ON k.id = p.kit_id WHERE h.id IN (SELECT id FROM made) ORDER BY k.name COLLATE NOCASE, p.position`,
  ).all(recordingId) as Dependents['pads'];
  return { hits, pads };
}

/**
 * Checks that a recording can be deleted: it is in the bin and unused. Throws `refused` with what depends on it, and
 * what to do.
 */
export function requireDiscardable(db: Db, recordingId: string): void {
  const row = prepared(db, "SELECT title, binned_at AS binnedAt FROM recording WHERE id = ? AND state = 'ready'").get(
    recordingId,
  ) as { title: string; binnedAt: number | null } | undefined;
  if (!row) throw new UndercroftError('not-found', 'The recording is not there.');
  if (row.binnedAt === null)
    throw new UndercroftError('refused', `"${row.title}" is not in the bin; only what lies there can go for good.`);
  const { hits, pads } = dependentsOf(db, recordingId);
  if (hits.length === 0) return;
  const some = (list: readonly string[]) =>
    list.length > 6 ? `${list.slice(0, 6).join(', ')} and ${list.length - 6} more` : list.join(', ');
  const onPads = pads.length > 0 ? ` It is heard on: ${some(pads.map((p) => `${p.pad} (${p.kit})`))}.` : '';
  throw new UndercroftError(
    'refused',
    `"${row.title}" cannot go for good: ${hits.length === 1 ? 'a hit is' : `${hits.length} hits are`} made of it - ${some(hits.map((h) => h.name))}.${onPads} Remove those first, or leave it in the bin.`,
  );
}
