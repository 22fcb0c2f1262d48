import { createHash, randomUUID } from 'node:crypto';
import { hear } from '@/core/describe/hearing';
import { DESCRIPTION_VERSION, unpackSound } from '@/core/describe/pack';
import { UndercroftError } from '@/core/errors';
import type { Family } from '@/core/family';
import { grooveFromRhythm } from '@/core/groove/from-rhythm';
import type { WholeGroove } from '@/core/groove/midi';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { DETECTION_VERSION } from '@/core/onset/detect';
import { selectOnsets } from '@/core/onset/select';
import { SPLIT_INITIAL } from '@/core/onset/split';
import { RHYTHM_VERSION, type Rhythm, rhythmOf } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';
import type { Db } from '../db/open';
import { prepared, select } from '../history/tables';
import { readFormat } from '../importing/pcm';
import { cutView } from '../views/recordings';
import { countUnheard } from './describe';

/** Recordings with more slices are no loops, and get no rhythm. */
const MOST_SLICES = 1000;

/** Inputs of a recording's rhythm as they are now; null where it has no slices, or more than a loop. */
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

type Basis = NonNullable<ReturnType<typeof basisNow>>;

/** Whether the stored rhythm was computed from other inputs, or by an older version. */
export function isRhythmOutdated(db: Db, recordingId: string): boolean {
  const basis = basisNow(db, recordingId);
  return basis !== null && basis.hash !== basisOf(db, recordingId);
}

/**
 * Computes a recording's rhythm from its slices and a person's decisions, and stores it. Does nothing where it is
 * current, where slices are not described yet, or where there are none or more than in a loop.
 */
export function keepRhythm(db: Db, recordingId: string): void {
  const basis = basisNow(db, recordingId);
  if (!basis || basis.hash === basisOf(db, recordingId) || countUnheard(db, recordingId) > 0) return;
  const { rhythm } = listenTo(db, recordingId, basis);
  prepared(db, 'INSERT OR REPLACE INTO rhythm VALUES (?, ?, ?)').run(recordingId, basis.hash, JSON.stringify(rhythm));
}

/** The rhythm of a recording as it is now, as a groove of roles; null until all its slices were listened to. Throws `refused` where it has none. */
export function grooveOf(db: Db, recordingId: string): WholeGroove | null {
  const basis = basisNow(db, recordingId);
  if (!basis)
    throw new UndercroftError('refused', 'It has no slices, or too many for a loop: split it on Slice first.');
  if (countUnheard(db, recordingId) > 0) return null;
  const { hearing, rhythm } = listenTo(db, recordingId, basis);
  const sliceAt = new Map(basis.slices.map(({ startFrame }, i) => [startFrame, hearing.slices[i]]));
  const [recording] = select(db, 'recording', 'WHERE id = ?', recordingId);
  const whole = grooveFromRhythm(rhythm, hearing.shelves, recording?.title ?? 'Groove', randomUUID, {
    sliceAt: (frame) => sliceAt.get(frame),
    // As a pad answers velocity unless it is set otherwise.
    rangeDb: PAD_PARAMETERS.velocityDb.initial,
  });
  if (!whole) throw new UndercroftError('refused', 'No stroke is heard in it.');
  return whole;
}

/** What is heard in a recording's described slices, and its rhythm. */
function listenTo(db: Db, recordingId: string, { said, slices, candidates }: Basis) {
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
  return { hearing, rhythm };
}

/** The stored rhythm of a recording; null where there is none. */
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
