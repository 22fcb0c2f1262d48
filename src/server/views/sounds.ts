import type { SoundsView } from '@/contract/views';
import { DESCRIPTION_VERSION } from '@/core/describe/pack';
import { countUnheard } from '../analysis/describe';
import { readRhythm } from '../analysis/rhythm';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';

/** What was found by listening to each slice of a recording alone, as far as that has come. */
export function soundsView(db: Db, recordingId: string): SoundsView {
  const rows = prepared(
    db,
    `SELECT DISTINCT f.start_frame AS startFrame, f.end_frame AS endFrame, f.figures
     FROM slice s JOIN slice_sound f
       ON f.recording_id = s.recording_id AND f.start_frame = s.start_frame AND f.end_frame = s.end_frame
     WHERE s.recording_id = ? AND f.version = ?`,
  ).all(recordingId, DESCRIPTION_VERSION) as { startFrame: number; endFrame: number; figures: Buffer }[];
  return {
    sounds: rows.map(({ figures, ...region }) => ({ ...region, figures: figures.toString('base64') })),
    unheard: countUnheard(db, recordingId),
    rhythm: readRhythm(db, recordingId),
  };
}
