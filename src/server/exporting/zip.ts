import { Zip, ZipPassThrough } from 'fflate';
import { joinBytes } from '@/core/bytes';
import { UndercroftError } from '@/core/errors';
import type { BundleFile } from '@/core/kit/bundle';

/** Limits of 32-bit sizes (PKWARE APPNOTE 4.4.8); not every reader supports larger zips. */
const MOST_BYTES = 0xffff_fffe;
/**
 * Bytes that a file adds to its own, its name counted twice: header, descriptor and directory entry (4.3.7, 4.3.9,
 * 4.3.12).
 */
const BYTES_A_FILE = 30 + 16 + 46;
const END_BYTES = 22;
/** Dates of a zip are those of MS-DOS (4.4.6): a wrong clock must not break an export. */
const [EARLIEST, LATEST] = [Date.UTC(1980, 0, 2), Date.UTC(2099, 11, 30)];

/**
 * A zip of files, made piece by piece as it is read. WAV files hardly shrink, so nothing is compressed and the length
 * is known beforehand. Throws `too-large` where a zip cannot hold them.
 */
export class ZipOfFiles {
  readonly bytes: number;
  private readonly pieces: Generator<Uint8Array<ArrayBuffer>>;

  constructor(files: readonly BundleFile[], now = Date.now()) {
    const name = new TextEncoder();
    this.bytes = files.reduce(
      (sum, file) => sum + BYTES_A_FILE + 2 * name.encode(file.path).length + file.bytes,
      END_BYTES,
    );
    if (this.bytes > MOST_BYTES) {
      const longest = files.reduce((a, b) => (a.bytes > b.bytes ? a : b));
      const gb = (n: number) => `${(n / 1e9).toFixed(1)} GB`;
      throw new UndercroftError(
        'too-large',
        `The kit would be a zip of ${gb(this.bytes)}; a zip holds up to 4.2 GB. The longest sound is ${longest.path} with ${gb(longest.bytes)}: shorten it, or take it off the kit.`,
      );
    }
    this.pieces = zipped(files, new Date(Math.max(EARLIEST, Math.min(LATEST, now))));
  }

  /** The next bytes; none where `last`. */
  next(): { bytes: Uint8Array<ArrayBuffer>; last: boolean } {
    const step = this.pieces.next();
    return { bytes: step.done ? new Uint8Array(0) : step.value, last: step.done === true };
  }
}

/** One file as it is, made piece by piece as it is read. */
export class BareFile {
  readonly bytes: number;
  private readonly pieces: Iterator<Uint8Array<ArrayBuffer>>;

  constructor({ bytes, pieces }: BundleFile) {
    this.bytes = bytes;
    this.pieces = pieces()[Symbol.iterator]();
  }

  /** The next bytes; none where `last`. */
  next(): { bytes: Uint8Array<ArrayBuffer>; last: boolean } {
    const step = this.pieces.next();
    return { bytes: step.done ? new Uint8Array(0) : step.value, last: step.done === true };
  }
}

function* zipped(files: readonly BundleFile[], mtime: Date): Generator<Uint8Array<ArrayBuffer>> {
  let out: Uint8Array[] = [];
  const zip = new Zip((error, bytes) => {
    if (error) throw error;
    out.push(bytes);
  });
  for (const file of files) {
    const entry = new ZipPassThrough(file.path);
    entry.mtime = mtime;
    zip.add(entry);
    for (const piece of file.pieces()) {
      entry.push(piece);
      yield joinBytes(out);
      out = [];
    }
    entry.push(new Uint8Array(0), true);
  }
  zip.end();
  yield joinBytes(out);
}
