import { UndercroftError } from '@/core/errors';
import { foldFrames } from '@/core/format/fold';
import { BYTES_PER_SAMPLE, decodeFrames, type SampleEncoding } from '@/core/format/pcm';
import type { Audio } from '@/core/signal/audio';
import type { Db } from '../db/open';
import { prepared } from '../history/tables';
import { BLOCK_FRAMES } from './recording-writer';

export interface StoredFormat {
  readonly encoding: SampleEncoding;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  readonly peak: number;
}

export function readFormat(db: Db, recordingId: string): StoredFormat {
  const row = prepared(
    db,
    `SELECT encoding, sample_rate AS sampleRate, channel_count AS channelCount, frames, peak
     FROM recording WHERE id = ? AND state = 'ready'`,
  ).get(recordingId) as StoredFormat | undefined;
  if (!row) throw new UndercroftError('not-found', 'The recording is not there.');
  return row;
}

/** The bytes of [start, end) in the source's encoding, channels interleaved; clipped to what exists. */
export function readPcmBytes(
  db: Db,
  recordingId: string,
  format: StoredFormat,
  start: number,
  end: number,
): Uint8Array<ArrayBuffer> {
  const frameBytes = BYTES_PER_SAMPLE[format.encoding] * format.channelCount;
  const from = Math.max(0, Math.min(start, format.frames));
  const to = Math.max(from, Math.min(end, format.frames));
  const out = new Uint8Array((to - from) * frameBytes);
  const first = Math.floor(from / BLOCK_FRAMES);
  const last = Math.floor((to - 1) / BLOCK_FRAMES);
  const rows = prepared(
    db,
    'SELECT ordinal, data FROM pcm_block WHERE recording_id = ? AND ordinal BETWEEN ? AND ? ORDER BY ordinal',
  ).iterate(recordingId, first, last) as IterableIterator<{ ordinal: number; data: Buffer }>;
  for (const { ordinal, data } of rows) {
    const blockStart = ordinal * BLOCK_FRAMES;
    const a = Math.max(from, blockStart);
    const b = Math.min(to, blockStart + data.length / frameBytes);
    if (b > a)
      out.set(data.subarray((a - blockStart) * frameBytes, (b - blockStart) * frameBytes), (a - from) * frameBytes);
  }
  return out;
}

/** The same, decoded: one Float32Array a channel. */
export function readAudio(db: Db, recordingId: string, start = 0, end = Number.POSITIVE_INFINITY): Audio {
  const format = readFormat(db, recordingId);
  const bytes = readPcmBytes(db, recordingId, format, start, end);
  return { sampleRate: format.sampleRate, channels: decodeFrames(format.encoding, bytes, format.channelCount) };
}

/** One channel for analysis of [start, end), decoded block by block as they are kept, so that no more than one lies about decoded. */
export function readMono(db: Db, recordingId: string, start: number, end: number): Float32Array {
  const format = readFormat(db, recordingId);
  const from = Math.max(0, start);
  const to = Math.max(from, Math.min(end, format.frames));
  const out = new Float32Array(to - from);
  for (let at = from; at < to; ) {
    const next = Math.min(to, (Math.floor(at / BLOCK_FRAMES) + 1) * BLOCK_FRAMES);
    foldFrames(format, readPcmBytes(db, recordingId, format, at, next), out, at - from);
    at = next;
  }
  return out;
}
