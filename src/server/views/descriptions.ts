import type { SoundsView } from '@/contract/views';
import { DESCRIPTION_VERSION } from '@/core/describe/pack';
import { countUnheard } from '../analysis/describe';
import { readRhythm } from '../analysis/rhythm';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/**
 * Descriptions of a recording's slices so far. Figures of sounds up to `after` are left out: the caller has them. One
 * transaction: what is described between two reads would be missing from the sounds and from those still to come.
 */
export function soundsView(db: Db, recordingId: string, after = 0): SoundsView {
  const read = (): SoundsView => {
    const rows = prepared(
      db,
      `SELECT DISTINCT f.id, f.start_frame AS startFrame, f.end_frame AS endFrame, iif(f.id > ?, f.figures, NULL) AS figures
       FROM slice s JOIN slice_sound f
         ON f.recording_id = s.recording_id AND f.start_frame = s.start_frame AND f.end_frame = s.end_frame
       WHERE s.recording_id = ? AND f.version = ?`,
    ).all(after, recordingId, DESCRIPTION_VERSION) as SoundRow[];
    return {
      sounds: rows.map(({ figures, ...rest }) => ({ ...rest, figures: figures?.toString('base64') ?? null })),
      unheard: countUnheard(db, recordingId),
      rhythm: readRhythm(db, recordingId),
    };
  };
  return db.transaction(read).deferred();
}

interface SoundRow {
  readonly id: number;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly figures: Buffer | null;
}
