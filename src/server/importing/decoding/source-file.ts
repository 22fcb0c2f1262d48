import { closeSync, fstatSync, openSync, readSync } from 'node:fs';

/** Small relative to the decoded size: a compressed piece becomes several arrays of sound. */
const PIECE_BYTES = 64 * 1024;

/** A file on disk, read in pieces while it is decoded. */
export class SourceFile {
  readonly bytes: number;
  /** Where the sound's own file begins, after tags before it. */
  start = 0;
  private readonly handle: number;

  constructor(
    readonly path: string,
    /** Called with 0..1 after each piece; throws to stop. */
    private readonly progress: (share: number) => void = () => {},
  ) {
    this.handle = openSync(path, 'r');
    this.bytes = fstatSync(this.handle).size;
  }

  /** The first bytes, fewer where the file is shorter. */
  head(bytes: number): Uint8Array<ArrayBuffer> {
    return this.read(this.start, bytes);
  }

  tail(bytes: number): Uint8Array<ArrayBuffer> {
    return this.read(Math.max(0, this.bytes - bytes), bytes);
  }

  read(at: number, bytes: number): Uint8Array<ArrayBuffer> {
    const out = new Uint8Array(Math.max(0, Math.min(bytes, this.bytes - at)));
    return out.subarray(0, readSync(this.handle, out, 0, out.length, at));
  }

  /** The whole file, piece by piece; the thread yields between pieces. */
  async *pieces(size = PIECE_BYTES): AsyncGenerator<Uint8Array<ArrayBuffer>> {
    for (let at = this.start; at < this.bytes; at += size) {
      yield this.read(at, size);
      await this.tell((at + size) / this.bytes);
    }
  }

  /** The same, reusing one buffer: for callers that are done with a piece when they ask for the next. */
  async *passingPieces(size: number): AsyncGenerator<Uint8Array<ArrayBuffer>> {
    const place = new Uint8Array(Math.min(size, this.bytes));
    for (let at = this.start; at < this.bytes; at += size) {
      yield place.subarray(0, readSync(this.handle, place, 0, place.length, at));
      await this.tell((at + size) / this.bytes);
    }
  }

  /** Reports the progress and yields. */
  async tell(share: number): Promise<void> {
    this.progress(Math.min(1, share));
    await new Promise((resolve) => setImmediate(resolve));
  }

  close(): void {
    closeSync(this.handle);
  }
}
