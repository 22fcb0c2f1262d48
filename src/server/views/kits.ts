import type { KitListEntry, KitView } from '@/contract/views';
import { UndercroftError } from '@/core/errors';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { recordingsById } from './recordings';

export function listKits(db: Db): KitListEntry[] {
  return prepared(
    db,
    'SELECT k.id, k.name, (SELECT count(*) FROM pad p WHERE p.kit_id = k.id) AS padCount FROM kit k ORDER BY k.name COLLATE NOCASE',
  ).all() as KitListEntry[];
}

/** A kit with its pads, their layers, the hits these play and the recordings they come from. */
export function kitView(db: Db, kitId: string): KitView {
  const kit = prepared(db, 'SELECT id, rev, name FROM kit WHERE id = ?').get(kitId) as KitView['kit'] | undefined;
  if (!kit) throw new UndercroftError('not-found', 'The kit is not there.');
  const pads = prepared(
    db,
    `SELECT id, rev, kit_id AS kitId, position, name, family, level_db AS levelDb, normalise_dbfs AS normaliseDbfs, semitones,
            cents, pan, mode, choke_group AS chokeGroup, fade_out_ms AS fadeOutMs
     FROM pad WHERE kit_id = ? ORDER BY position`,
  ).all(kitId) as KitView['pads'];
  const layers = prepared(
    db,
    `SELECT l.id, l.rev, l.pad_id AS padId, l.hit_id AS hitId, l.position, l.level_db AS levelDb, l.semitones, l.cents
     FROM layer l JOIN pad p ON p.id = l.pad_id WHERE p.kit_id = ? ORDER BY l.position, l.id`,
  ).all(kitId) as KitView['layers'];
  const hits = prepared(
    db,
    `SELECT DISTINCT h.id, h.rev, h.name, h.family, h.recording_id AS recordingId, h.start_frame AS startFrame,
            h.end_frame AS endFrame, h.slice_id AS sliceId
     FROM hit h JOIN layer l ON l.hit_id = h.id JOIN pad p ON p.id = l.pad_id WHERE p.kit_id = ?`,
  ).all(kitId) as KitView['hits'];
  const recordings = recordingsById(db, [...new Set(hits.map((h) => h.recordingId))]);
  return { kit, pads, layers, hits, recordings };
}
