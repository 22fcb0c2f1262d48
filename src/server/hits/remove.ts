import type { Change, EditAnswer } from '@/contract/edits';
import type { HitUses, PadOfKit, RemoveRequest } from '@/contract/hits';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { prepared } from '../history/tables';

interface Row extends PadOfKit {
  readonly id: string;
  readonly rev: number;
  readonly padId: string;
  readonly padRev: number;
  /** What the pad is in its kit's layout; empty where it has no role. */
  readonly role: string;
}

/** Layers or other takes that play some hits, with their pads and kits, in the order of the pads. */
function playing(db: Db, table: 'layer' | 'variation', ids: readonly string[]): Row[] {
  return prepared(
    db,
    `SELECT u.id, u.rev, p.id AS padId, p.rev AS padRev, p.role, p.name AS pad, k.name AS kit
     FROM ${table} u JOIN pad p ON p.id = u.pad_id JOIN kit k ON k.id = p.kit_id
     WHERE u.hit_id IN (SELECT value FROM json_each(?)) ORDER BY k.name COLLATE NOCASE, p.position, u.position`,
  ).all(JSON.stringify(ids)) as Row[];
}

interface LayerOf {
  readonly id: string;
  readonly rev: number;
  readonly layered: string;
}

/** Layers of other hits that play some hits. */
function layersOfOthers(db: Db, ids: readonly string[]): LayerOf[] {
  return prepared(
    db,
    `SELECT m.id, m.rev, h.name AS layered FROM member m JOIN hit h ON h.id = m.layered_id
     WHERE m.hit_id IN (SELECT value FROM json_each(@ids)) AND m.layered_id NOT IN (SELECT value FROM json_each(@ids))
     ORDER BY h.name COLLATE NOCASE`,
  ).all({ ids: JSON.stringify(ids) }) as LayerOf[];
}

/** Pads that have only these layers. */
function silenced(db: Db, layers: readonly Row[]): ReadonlySet<string> {
  const going = new Map<string, number>();
  for (const { padId } of layers) going.set(padId, (going.get(padId) ?? 0) + 1);
  const count = prepared(db, 'SELECT count(*) AS n FROM layer WHERE pad_id = ?');
  return new Set([...going].filter(([id, n]) => (count.get(id) as { n: number }).n === n).map(([id]) => id));
}

/** What else would be removed with hits, to be shown first. */
export function usesOf(db: Db, ids: readonly string[]): HitUses {
  const layers = playing(db, 'layer', ids);
  const empty = silenced(db, layers);
  const named = (rows: readonly Row[]) => [
    ...new Map(rows.map(({ padId, pad, kit }) => [padId, { pad, kit }] as const)).values(),
  ];
  return {
    silent: named(layers.filter((row) => empty.has(row.padId))),
    thinner: named(layers.filter((row) => !empty.has(row.padId))),
    takes: named(playing(db, 'variation', ids).filter((row) => !empty.has(row.padId))),
    layered: [...new Set(layersOfOthers(db, ids).map(({ layered }) => layered))],
  };
}

/**
 * Deletes hits in the bin, also from pads and layered hits: a pad without other sounds is deleted too, unless it has a role. One edit, which undo reverses as
 * long as their recordings exist. Throws `refused` where one of them is not in the bin.
 */
export function removeHits(db: Db, { browser, tab, key, ids }: RemoveRequest): EditAnswer {
  const find = prepared(db, 'SELECT id, rev, name, binned_at AS binnedAt FROM hit WHERE id = ?');
  const hits = ids.flatMap(
    (id) => (find.get(id) as { id: string; rev: number; name: string; binnedAt: number | null }) ?? [],
  );
  const live = hits.find(({ binnedAt }) => binnedAt === null);
  if (live)
    throw new UndercroftError('refused', `"${live.name}" is not in the bin; only what lies there can be removed.`);
  if (hits.length === 0) throw new UndercroftError('not-found', 'The hits are not there (any more).');
  const layers = playing(db, 'layer', ids);
  const empty = silenced(db, layers);
  const remove =
    (doc: 'pad' | 'layer' | 'variation' | 'member' | 'hit') =>
    (row: { id: string; rev: number }): Change => ({
      op: 'remove',
      doc,
      id: row.id,
      rev: row.rev,
    });
  // Deleting a pad deletes its layers and other takes.
  const silent = layers.filter((row) => empty.has(row.padId));
  const pads = new Map(silent.filter(({ role }) => role === '').map((row) => [row.padId, row.padRev]));
  // One with a role waits for another sound.
  const roles = new Map(silent.filter(({ role }) => role !== '').map((row) => [row.padId, row]));
  const staying = (row: Row) => !pads.has(row.padId);
  const changes = [
    ...[...pads].map(([id, rev]) => remove('pad')({ id, rev })),
    ...[...roles.values()].map(
      ({ padId, padRev, role }): Change => ({ op: 'update', doc: 'pad', id: padId, rev: padRev, set: { name: role } }),
    ),
    ...layers.filter(staying).map(remove('layer')),
    ...playing(db, 'variation', ids).filter(staying).map(remove('variation')),
    ...layersOfOthers(db, ids).map(remove('member')),
    ...hits.map(remove('hit')),
  ];
  const label = hits.length === 1 ? `removed ${hits[0]?.name}`.slice(0, 200) : `removed ${hits.length} hits`;
  return commitEdit(db, { browser, tab, key, label, changes });
}
