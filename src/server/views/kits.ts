import type { KitListEntry, KitView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { columnsOf, fromRow, prepared } from '../history/tables';
import { recordingsById } from './recordings';

export function listKits(db: Db): KitListEntry[] {
  return prepared(
    db,
    'SELECT k.id, k.name, (SELECT count(*) FROM pad p WHERE p.kit_id = k.id) AS padCount FROM kit k ORDER BY k.name COLLATE NOCASE',
  ).all() as KitListEntry[];
}

/** A kit with its pads, their layers and other takes, the hits these play and the recordings they come from. */
export function kitView(db: Db, kitId: string): KitView {
  const kit = prepared(db, 'SELECT id, rev, name FROM kit WHERE id = ?').get(kitId) as KitView['kit'] | undefined;
  if (!kit) throw new UndercroftError('not-found', 'The kit is not there.');
  const pads = prepared(db, `SELECT ${columnsOf('pad')} FROM pad WHERE kit_id = ? ORDER BY position`)
    .all(kitId)
    .map((row) => fromRow<KitView['pads'][number]>(row));
  const layers = prepared(
    db,
    `SELECT ${columnsOf('layer', 'l')} FROM layer l JOIN pad p ON p.id = l.pad_id WHERE p.kit_id = ? ORDER BY l.position, l.id`,
  ).all(kitId) as KitView['layers'];
  const variations = prepared(
    db,
    `SELECT ${columnsOf('variation', 'v')} FROM variation v JOIN pad p ON p.id = v.pad_id WHERE p.kit_id = ? ORDER BY v.position, v.id`,
  ).all(kitId) as KitView['variations'];
  const used = (table: string) =>
    `SELECT u.hit_id FROM ${table} u JOIN pad p ON p.id = u.pad_id WHERE p.kit_id = @kitId`;
  const hits = prepared(
    db,
    `SELECT ${columnsOf('hit')} FROM hit WHERE id IN (${used('layer')} UNION ${used('variation')})`,
  )
    .all({ kitId })
    .map((row) => fromRow<KitView['hits'][number]>(row));
  const recordings = recordingsById(db, [...new Set(hits.map((h) => h.recordingId))]);
  return { kit, pads, layers, variations, hits, recordings };
}
