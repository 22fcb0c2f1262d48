import { randomUUID } from 'node:crypto';
import { type Candidate, DETECTION_VERSION } from '@/core/onset/detect';
import { energySteps } from '@/core/onset/energy';
import { detectLong } from '@/core/onset/long';
import { selectOnsets, slicesFromOnsets } from '@/core/onset/select';
import { type Levels, packLevels } from '@/core/onset/silence';
import { SPLIT_INITIAL } from '@/core/onset/split';
import { overviewLong } from '@/core/overview/pack';
import type { Db } from '../db/open';
import { withRoom } from '../db/reserve';
import { requireReady } from '../history/rules';
import { insertDoc, prepared, readDoc } from '../history/tables';
import { MonoReader } from '../importing/pcm';
import { droppedBytes } from '../rubbish';
import { oneShotsOf, takeOneShot } from './one-shots';

const FIELDS = 8;
/** Share of the analysis time that finding onsets takes; the rest is the overview. */
const DETECTION_SHARE = 0.8;

/**
 * Analyses a recording: stores its onset candidates and overview, makes a hit of an imported one-shot, and - the first
 * time - creates the slices of the default split. Existing slices belong to a person and stay.
 */
export function analyseRecording(db: Db, recordingId: string, progress: (share: number) => void): void {
  const reader = new MonoReader(db, recordingId);
  const { frames, sampleRate, peak } = reader.format;
  const read = (start: number, end: number) => {
    const samples = reader.read(start, end);
    droppedBytes(samples.byteLength);
    return samples;
  };
  const listened = { readMono: read, totalFrames: frames, sampleRate, reference: peak };
  const candidates = detectLong(listened, (share) => progress(share * DETECTION_SHARE));
  const marks = selectOnsets(candidates, SPLIT_INITIAL, sampleRate);
  const marksAndClicks = selectOnsets(candidates, SPLIT_INITIAL, sampleRate, true);
  const overview = overviewLong(read, frames, sampleRate, marksAndClicks, peak, (share) =>
    progress(DETECTION_SHARE + share * (1 - DETECTION_SHARE)),
  );
  const levels = levelsLong(read, frames, sampleRate);
  const hits = oneShotsOf(db, recordingId, marks);
  const keep = db.transaction(() => {
    // It may have been removed during the analysis.
    requireReady(db, recordingId);
    prepared(
      db,
      `INSERT OR REPLACE INTO analysis (recording_id, version, candidates, overview, level_step, levels)
       VALUES (?, ?, ?, ?, ?, ?)`,
    ).run(
      recordingId,
      DETECTION_VERSION,
      packCandidates(candidates),
      Buffer.from(overview),
      levels.step,
      Buffer.from(levels.values),
    );
    for (const hit of hits) takeOneShot(db, hit);
    if (readDoc(db, 'cut', recordingId)) return;
    insertDoc(db, 'cut', { id: recordingId, ...SPLIT_INITIAL, pad: {} }, 1);
    const insert = prepared(
      db,
      "INSERT INTO slice (id, recording_id, start_frame, end_frame, origin) VALUES (?, ?, ?, ?, 'found')",
    );
    for (const region of slicesFromOnsets(marks, frames)) {
      insert.run(randomUUID(), recordingId, region.startFrame, region.endFrame);
    }
  });
  withRoom(db, () => keep.immediate());
}

const LEVEL_PART_S = 60;

/** Levels of a recording of any length, part by part; parts are whole numbers of steps. */
function levelsLong(read: (start: number, end: number) => Float32Array, frames: number, sampleRate: number): Levels {
  const { step } = energySteps(new Float32Array(0), sampleRate);
  const values = new Uint8Array(Math.ceil(frames / step));
  const part = Math.ceil((LEVEL_PART_S * sampleRate) / step) * step;
  for (let start = 0; start < frames; start += part)
    values.set(packLevels(energySteps(read(start, Math.min(frames, start + part)), sampleRate)).values, start / step);
  return { step, values };
}

/** Queues recordings analysed by an older version for analysis; their slices stay. */
export function requeueOutdated(db: Db): void {
  prepared(
    db,
    `INSERT INTO job (kind, recording_id, state)
     SELECT 'analyse', a.recording_id, 'waiting' FROM analysis a
     WHERE a.version < ? AND NOT EXISTS (
       SELECT 1 FROM job j WHERE j.kind = 'analyse' AND j.recording_id = a.recording_id AND j.state IN ('waiting', 'running'))`,
  ).run(DETECTION_VERSION);
}

export function packCandidates(candidates: readonly Candidate[]): Buffer {
  const values = new Float64Array(candidates.length * FIELDS);
  for (const [i, c] of candidates.entries())
    values.set([c.frame, c.strength, c.decayEnd, c.peak, c.low, c.mid, c.high, Number(c.click)], i * FIELDS);
  return Buffer.from(values.buffer);
}

export function unpackCandidates(blob: Buffer): Candidate[] {
  const values = new Float64Array(blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength));
  return Array.from({ length: values.length / FIELDS }, (_, i) => ({
    frame: values[i * FIELDS] as number,
    strength: values[i * FIELDS + 1] as number,
    decayEnd: values[i * FIELDS + 2] as number,
    peak: values[i * FIELDS + 3] as number,
    low: values[i * FIELDS + 4] as number,
    mid: values[i * FIELDS + 5] as number,
    high: values[i * FIELDS + 6] as number,
    click: values[i * FIELDS + 7] === 1,
  }));
}
