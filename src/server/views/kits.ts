import type { KitDocs, KitListEntry } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared, select } from '../history/tables';
import { hitsWithLayers } from '../hits/treated';
import { recordingsById } from './recordings';

/** All kits, by name, with what they say of themselves. */
export function listKits(db: Db): KitListEntry[] {
  const rows = prepared(
    db,
    `SELECT k.id, k.name, k.author, k.about, k.words, k.supplied, k.version_of AS versionOf, k.kept_at AS keptAt,
       (SELECT count(DISTINCT l.pad_id) FROM pad p JOIN layer l ON l.pad_id = p.id WHERE p.kit_id = k.id) AS padCount
     FROM kit k ORDER BY k.name COLLATE NOCASE`,
  ).all() as (Omit<KitListEntry, 'words' | 'supplied'> & { words: string; supplied: number })[];
  return rows.map((row) => ({ ...row, supplied: row.supplied === 1, words: JSON.parse(row.words) as string[] }));
}

/** A kit with its pads, their layers, steps and other takes, the hits these play and the recordings they come from. */
export function kitView(db: Db, kitId: string): KitDocs {
  const [kit] = select(db, 'kit', 'WHERE id = ?', kitId);
  if (!kit) throw new UndercroftError('not-found', 'The kit is not there.');
  const pads = select(db, 'pad', 'WHERE kit_id = ? ORDER BY position', kitId);
  const onPads = 'WHERE pad_id IN (SELECT id FROM pad WHERE kit_id = ?) ORDER BY position, id';
  const layers = select(db, 'layer', onPads, kitId);
  const steps = select(db, 'padStep', onPads, kitId);
  const buses = select(db, 'bus', 'WHERE kit_id = ? ORDER BY position, id', kitId);
  const busSteps = select(
    db,
    'busStep',
    'WHERE bus_id IN (SELECT id FROM bus WHERE kit_id = ?) ORDER BY position, id',
    kitId,
  );
  const variations = select(db, 'variation', onPads, kitId);
  const used = [...new Set([...layers, ...variations].map(({ hitId }) => hitId))];
  const hits = hitsWithLayers(db, used);
  const recordings = recordingsById(db, [...new Set(hits.map((h) => h.recordingId))]);
  return { kit, pads, layers, steps, buses, busSteps, variations, hits, recordings };
}
