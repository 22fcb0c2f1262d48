import { randomUUID } from 'node:crypto';
import { type Candidate, DETECTION_VERSION } from '@/core/onset/detect';
import { detectLong } from '@/core/onset/long';
import { DEFAULT_SPLIT, selectOnsets, slicesFromOnsets } from '@/core/onset/select';
import { overviewLong } from '@/core/overview/pack';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { readFormat, readMono } from '../importing/pcm';
import { droppedBytes } from '../rubbish';
import { oneShotsOf, takeOneShot } from './one-shots';

const FIELDS = 4;
/** How much of the work, by time, is the finding of onsets; the rest is the overview. */
const DETECTION_SHARE = 0.8;

/**
 * Finds the candidates of a recording and its overview, keeps them, takes a one-shot that came in as such for a hit, and - the first time - lays the slices of the default split. Slices
 * that are there already are a person's and stay.
 */
export function analyseRecording(db: Db, recordingId: string, progress: (share: number) => void): void {
  const { frames, sampleRate, peak } = readFormat(db, recordingId);
  const read = (start: number, end: number) => {
    const samples = readMono(db, recordingId, start, end);
    droppedBytes(samples.byteLength);
    return samples;
  };
  const candidates = detectLong(read, frames, sampleRate, peak, (share) => progress(share * DETECTION_SHARE));
  const marks = selectOnsets(candidates, DEFAULT_SPLIT, sampleRate);
  const overview = overviewLong(read, frames, sampleRate, marks, peak, (share) =>
    progress(DETECTION_SHARE + share * (1 - DETECTION_SHARE)),
  );
  const hits = oneShotsOf(db, recordingId, marks);
  db.transaction(() => {
    prepared(
      db,
      'INSERT OR REPLACE INTO analysis (recording_id, version, candidates, overview) VALUES (?, ?, ?, ?)',
    ).run(recordingId, DETECTION_VERSION, packCandidates(candidates), Buffer.from(overview));
    for (const hit of hits) takeOneShot(db, hit);
    const first = prepared(db, 'INSERT OR IGNORE INTO cut (id, sensitivity, spacing_ms) VALUES (?, ?, ?)').run(
      recordingId,
      DEFAULT_SPLIT.sensitivity,
      DEFAULT_SPLIT.spacingMs,
    );
    if (first.changes === 0) return;
    const insert = prepared(
      db,
      "INSERT INTO slice (id, recording_id, start_frame, end_frame, origin) VALUES (?, ?, ?, ?, 'found')",
    );
    for (const region of slicesFromOnsets(marks, frames)) {
      insert.run(randomUUID(), recordingId, region.startFrame, region.endFrame);
    }
  }).immediate();
}

export function packCandidates(candidates: readonly Candidate[]): Buffer {
  const values = new Float64Array(candidates.length * FIELDS);
  for (const [i, c] of candidates.entries()) values.set([c.frame, c.strength, c.decayEnd, c.peak], i * FIELDS);
  return Buffer.from(values.buffer);
}

export function unpackCandidates(blob: Buffer): Candidate[] {
  const values = new Float64Array(blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength));
  return Array.from({ length: values.length / FIELDS }, (_, i) => ({
    frame: values[i * FIELDS] as number,
    strength: values[i * FIELDS + 1] as number,
    decayEnd: values[i * FIELDS + 2] as number,
    peak: values[i * FIELDS + 3] as number,
  }));
}
