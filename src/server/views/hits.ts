import type { HitView } from '@/contract/views';
import type { Db } from '../db/open';
import { columnsOf, fromRow, prepared } from '../history/tables';

/** All hits, those in the bin included, by name; each with where it comes from and which kits play it. */
export function listHits(db: Db): HitView[] {
  const kits = new Map<string, string[]>();
  const uses = prepared(
    db,
    `SELECT DISTINCT u.hit_id AS id, k.name
     FROM (SELECT hit_id, pad_id FROM layer UNION SELECT hit_id, pad_id FROM variation) u
     JOIN pad p ON p.id = u.pad_id JOIN kit k ON k.id = p.kit_id
     ORDER BY k.name COLLATE NOCASE`,
  ).all() as { id: string; name: string }[];
  for (const { id, name } of uses) kits.set(id, [...(kits.get(id) ?? []), name]);
  const rows = prepared(db, `SELECT ${columnsOf('hit')} FROM hit ORDER BY name COLLATE NOCASE, id`).all();
  return rows.map((row) => {
    const hit = fromRow<Omit<HitView, 'kits'>>(row);
    return { ...hit, kits: kits.get(hit.id) ?? [] };
  });
}
