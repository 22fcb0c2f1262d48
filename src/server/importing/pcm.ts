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

/** Bytes of [start, end) in the source's encoding, channels interleaved; clipped to the recording. */
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

/** Decoded blocks kept: consecutive reads overlap, and a slice may span two. */
const KEPT_BLOCKS = 4;

/** Reads a recording for analysis, mixed to one channel, block by block. */
export class MonoReader {
  readonly format: StoredFormat;
  /** By ordinal, the most recently read last. */
  private readonly blocks = new Map<number, Float32Array>();

  constructor(
    private readonly db: Db,
    private readonly recordingId: string,
  ) {
    this.format = readFormat(db, recordingId);
  }

  /** [start, end), clipped to the recording; written to the beginning of `room` where that is large enough. */
  read(start: number, end: number, room?: Float32Array): Float32Array {
    const from = Math.max(0, start);
    const to = Math.max(from, Math.min(end, this.format.frames));
    const out = room && room.length >= to - from ? room.subarray(0, to - from) : new Float32Array(to - from);
    for (let at = from; at < to; ) {
      const ordinal = Math.floor(at / BLOCK_FRAMES);
      const first = ordinal * BLOCK_FRAMES;
      const next = Math.min(to, first + BLOCK_FRAMES);
      out.set(this.block(ordinal).subarray(at - first, next - first), at - from);
      at = next;
    }
    return out;
  }

  private block(ordinal: number): Float32Array {
    const { blocks } = this;
    const known = blocks.get(ordinal);
    blocks.delete(ordinal);
    const block = known ?? this.decoded(ordinal, this.oldest() ?? new Float32Array(BLOCK_FRAMES));
    blocks.set(ordinal, block);
    return block;
  }

  /** The least recently read block, to be overwritten once the cache is full. */
  private oldest(): Float32Array | undefined {
    const [first] = this.blocks;
    if (!first || this.blocks.size < KEPT_BLOCKS) return undefined;
    this.blocks.delete(first[0]);
    return first[1];
  }

  private decoded(ordinal: number, room: Float32Array): Float32Array {
    const row = prepared(this.db, 'SELECT data FROM pcm_block WHERE recording_id = ? AND ordinal = ?').get(
      this.recordingId,
      ordinal,
    ) as { data: Buffer } | undefined;
    // The recording may be deleted while it is read.
    if (!row) throw new UndercroftError('not-found', 'The recording is no longer there.');
    foldFrames(this.format, row.data, room, 0);
    return room;
  }
}
