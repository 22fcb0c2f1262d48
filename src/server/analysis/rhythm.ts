import { createHash } from 'node:crypto';
import { hear } from '@/core/describe/hearing';
import { DESCRIPTION_VERSION, unpackSound } from '@/core/describe/pack';
import type { Family } from '@/core/family';
import { DETECTION_VERSION } from '@/core/onset/detect';
import { selectOnsets } from '@/core/onset/select';
import { SPLIT_INITIAL } from '@/core/onset/split';
import { RHYTHM_VERSION, type Rhythm, rhythmOf } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { readFormat } from '../importing/pcm';
import { cutView } from '../views/recordings';
import { countUnheard } from './describe';

/** Recordings of more slices are no loop whose rhythm is played again. */
const MOST_SLICES = 1000;

/** What a recording's rhythm would be worked out from now; null where it has none, or more slices than a loop. */
function basisNow(db: Db, recordingId: string) {
  const { recording, cut, slices, candidates } = cutView(db, recordingId);
  if (!cut || slices.length === 0 || slices.length > MOST_SLICES) return null;
  const { tempoBpm, downbeatFrame, beats, beatUnit } = cut;
  const said = { tempoBpm, downbeatFrame, beats, beatUnit, writtenBpm: recording.tempoBpm };
  const hash = createHash('sha256')
    .update(JSON.stringify([RHYTHM_VERSION, DESCRIPTION_VERSION, DETECTION_VERSION, said]))
    .update(JSON.stringify(slices.map((s) => [s.startFrame, s.endFrame, s.family, s.shelf])))
    .digest('hex');
  return { said, slices, candidates, hash };
}

/** Whether what is kept was worked out from something else than there is now, or by an older method. */
export function isRhythmOutdated(db: Db, recordingId: string): boolean {
  const basis = basisNow(db, recordingId);
  return basis !== null && basis.hash !== basisOf(db, recordingId);
}

/**
 * Works out a recording's rhythm from its slices and what was said of them, and keeps it with the recording; does nothing where
 * nothing has changed, where slices are still to be listened to, or where there are none or more than a loop has.
 */
export function keepRhythm(db: Db, recordingId: string): void {
  const basis = basisNow(db, recordingId);
  if (!basis || basis.hash === basisOf(db, recordingId) || countUnheard(db, recordingId) > 0) return;
  const { said, slices, candidates, hash } = basis;
  const { sampleRate, frames } = readFormat(db, recordingId);
  const figures = prepared(
    db,
    'SELECT figures FROM slice_sound WHERE recording_id = ? AND start_frame = ? AND end_frame = ?',
  );
  const listened = slices.map(({ startFrame, endFrame, family, shelf }) => {
    const row = figures.get(recordingId, startFrame, endFrame) as { figures: Buffer };
    return {
      startFrame,
      endFrame,
      family: family as Family | null,
      shelf,
      ...unpackSound(Uint8Array.from(row.figures)),
    };
  });
  const recording = { candidates, sampleRate };
  const hearing = hear(listened, () => recording);
  const rhythm = rhythmOf(
    strokesHeard(listened, hearing),
    selectOnsets(candidates, SPLIT_INITIAL, sampleRate),
    said,
    sampleRate,
    frames,
  );
  prepared(db, 'INSERT OR REPLACE INTO rhythm VALUES (?, ?, ?)').run(recordingId, hash, JSON.stringify(rhythm));
}

/** The rhythm that is kept with a recording; null where none was worked out. */
export function readRhythm(db: Db, recordingId: string): Rhythm | null {
  const row = prepared(db, 'SELECT rhythm FROM rhythm WHERE recording_id = ?').get(recordingId) as
    | { rhythm: string }
    | undefined;
  return row ? (JSON.parse(row.rhythm) as Rhythm) : null;
}

function basisOf(db: Db, recordingId: string): string | undefined {
  return (
    prepared(db, 'SELECT basis FROM rhythm WHERE recording_id = ?').get(recordingId) as { basis: string } | undefined
  )?.basis;
}
