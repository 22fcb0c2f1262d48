import { RECORD_FLOATS, RING_RECORDS } from './protocol';

const MASK = RING_RECORDS - 1;

/** The page's end of the ring. Throws when the audio thread is a whole ring behind. */
export class RingWriter {
  private readonly records: Float64Array;
  private readonly cursor: Int32Array;

  constructor(ring: SharedArrayBuffer, cursor: SharedArrayBuffer) {
    this.records = new Float64Array(ring);
    this.cursor = new Int32Array(cursor);
  }

  write(...fields: number[]): void {
    const written = Atomics.load(this.cursor, 0);
    if (written - Atomics.load(this.cursor, 1) >= RING_RECORDS) throw new Error('The audio thread does not answer.');
    this.records.set(fields, (written & MASK) * RECORD_FLOATS);
    Atomics.store(this.cursor, 0, (written + 1) | 0);
  }
}

/** The audio thread's end: `next` copies a record into `into` and returns whether there was one. Allocates nothing. */
export class RingReader {
  private readonly records: Float64Array;
  private readonly cursor: Int32Array;

  constructor(ring: SharedArrayBuffer, cursor: SharedArrayBuffer) {
    this.records = new Float64Array(ring);
    this.cursor = new Int32Array(cursor);
  }

  next(into: Float64Array): boolean {
    const read = Atomics.load(this.cursor, 1);
    if (read === Atomics.load(this.cursor, 0)) return false;
    const at = (read & MASK) * RECORD_FLOATS;
    for (let i = 0; i < RECORD_FLOATS; i++) into[i] = this.records[at + i] as number;
    Atomics.store(this.cursor, 1, (read + 1) | 0);
    return true;
  }
}
