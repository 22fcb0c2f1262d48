import type { Stored } from '@/contract/documents';
import type { ListedHit } from '@/contract/views';
import type { Hit } from '@/core/hit/model';
import type { Db } from '../db/open';
import { prepared, select } from '../history/tables';
import { hitDocs } from '../hits/treated';
import type { Listed } from './listing';

const IN_ORDER = 'ORDER BY name COLLATE NOCASE, id';

/** Hits by name, those in the bin included, each with the kits that play it. */
export const HITS: Listed<ListedHit> = {
  list: 'hits',
  page(db, after, limit) {
    const [name = '', id = ''] = after ?? [];
    const rows = select(db, 'hit', `WHERE (name COLLATE NOCASE, id) > (?, ?) ${IN_ORDER} LIMIT ?`, name, id, limit);
    const views = viewsOf(db, rows);
    const last = views.at(-1);
    return { rows: views, next: last && views.length === limit ? [last.name, last.id] : null };
  },
  byIds: (db, ids) =>
    viewsOf(db, select(db, 'hit', `WHERE id IN (SELECT value FROM json_each(?)) ${IN_ORDER}`, JSON.stringify(ids))),
};

/** All hits at once. */
export function listHits(db: Db): ListedHit[] {
  return viewsOf(db, select(db, 'hit', IN_ORDER));
}

function viewsOf(db: Db, rows: readonly Stored<Hit>[]): ListedHit[] {
  const hits = hitDocs(db, rows);
  const kits = new Map<string, string[]>();
  const uses = prepared(
    db,
    `SELECT DISTINCT u.hit_id AS id, k.name
     FROM (SELECT hit_id, pad_id FROM layer WHERE hit_id IN (SELECT value FROM json_each(@ids))
           UNION SELECT hit_id, pad_id FROM variation WHERE hit_id IN (SELECT value FROM json_each(@ids))) u
     JOIN pad p ON p.id = u.pad_id JOIN kit k ON k.id = p.kit_id
     ORDER BY k.name COLLATE NOCASE`,
  ).all({ ids: JSON.stringify(hits.map((hit) => hit.id)) }) as { id: string; name: string }[];
  for (const { id, name } of uses) kits.set(id, [...(kits.get(id) ?? []), name]);
  return hits.map((hit) => ({ ...hit, kits: kits.get(hit.id) ?? [] }));
}
