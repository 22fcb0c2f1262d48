import { UndercroftError } from '../errors';
import { joinBytes } from './bytes';
import { bytesPerFrame, guessKind, parseFormat, type WavFormat } from './wav-header';

/** What was found out about a file once all of it has been read. */
export interface WavReport {
  readonly format: WavFormat;
  /** Whole frames that were read. */
  readonly frames: number;
  /** Things a careful reader noticed and mended, each a sentence for the person. */
  readonly warnings: readonly string[];
}

const UNKNOWN_SIZE = 0xffffffff;
/** Chunks this parser keeps whole; longer bodies of other chunks are passed over without being held. */
const LARGEST_KEPT_CHUNK = 4096;

type State =
  | { kind: 'riff' }
  | { kind: 'chunk' }
  | { kind: 'body'; id: string; size: number }
  | { kind: 'skip'; left: number }
  | { kind: 'data'; left: number; open: boolean }
  | { kind: 'rest' };

/**
 * Reads a WAV or RF64 file as it arrives, in pieces of any size, holding no more than a few kilobytes.
 *
 * Sources: IBM & Microsoft 1991 (RIFF), EBU Tech 3306 (RF64 and ds64). Where the header lies, the samples win: a data
 * chunk longer than the file is read to the file's end, one of unknown length likewise, and both are reported.
 *
 * `onFormat` is called once, before any data; `onData` with the raw bytes of the data chunk in order. Throws
 * `not-audio`, `unsupported-audio` or `damaged-audio` from `push` or `finish`.
 */
export class WavStream {
  private state: State = { kind: 'riff' };
  private pending = new Uint8Array(0);
  private format: WavFormat | null = null;
  private dataBytes = 0;
  private promised: number | null = null;
  private longDataSize: number | null = null;
  private seen = 0;
  private trailing = 0;
  private readonly warnings: string[] = [];

  constructor(
    private readonly onFormat: (format: WavFormat) => void,
    private readonly onData: (bytes: Uint8Array) => void,
  ) {}

  push(bytes: Uint8Array): void {
    this.seen += bytes.length;
    let rest = bytes;
    if (this.pending.length > 0) {
      rest = joinBytes([this.pending, bytes]);
      this.pending = new Uint8Array(0);
    }
    while (rest.length > 0) {
      const used = this.step(rest);
      if (used === 0) {
        this.pending = rest.slice();
        return;
      }
      rest = rest.subarray(used);
    }
  }

  finish(): WavReport {
    if (this.seen === 0) throw new UndercroftError('not-audio', 'The file is empty (0 bytes).');
    if (this.state.kind === 'riff') throw notAWav(this.pending);
    if (!this.format) {
      throw new UndercroftError(
        'damaged-audio',
        'The file ends before its fmt chunk; what the samples are is not told.',
      );
    }
    if (this.promised === null && this.dataBytes === 0) {
      throw new UndercroftError('damaged-audio', 'The file has no data chunk: there is no sound in it.');
    }
    const frameBytes = bytesPerFrame(this.format);
    const frames = Math.floor(this.dataBytes / frameBytes);
    if (this.promised !== null && this.dataBytes < this.promised) {
      const says = Math.floor(this.promised / frameBytes);
      this.warnings.push(
        `The header promises ${says} frames, the file holds ${frames}: it was cut short. All there is was kept.`,
      );
    }
    if (this.dataBytes % frameBytes !== 0) {
      this.warnings.push(`The last ${this.dataBytes % frameBytes} bytes are not a whole frame and were left out.`);
    }
    if (this.trailing > 0)
      this.warnings.push(`${this.trailing} bytes after the last chunk belong to nothing and were passed over.`);
    if (frames === 0)
      throw new UndercroftError('damaged-audio', 'The data chunk is empty: there is no sound in the file.');
    return { format: this.format, frames, warnings: this.warnings };
  }

  /** Consumes from the front of `bytes`; returns how many, or 0 when more are needed first. */
  private step(bytes: Uint8Array): number {
    const state = this.state;
    switch (state.kind) {
      case 'riff':
        return this.readRiff(bytes);
      case 'chunk':
        return this.readChunkHeader(bytes);
      case 'body': {
        if (bytes.length < state.size) return 0;
        this.readBody(state.id, bytes.subarray(0, state.size));
        this.state = state.size % 2 === 1 ? { kind: 'skip', left: 1 } : { kind: 'chunk' };
        return state.size;
      }
      case 'skip': {
        const used = Math.min(state.left, bytes.length);
        state.left -= used;
        if (state.left === 0) this.state = { kind: 'chunk' };
        return used;
      }
      case 'data':
        return this.readData(state, bytes);
      case 'rest':
        this.trailing += bytes.length;
        return bytes.length;
    }
  }

  private readRiff(bytes: Uint8Array): number {
    if (bytes.length < 12) return 0;
    const id = ascii(bytes, 0);
    if ((id !== 'RIFF' && id !== 'RF64') || ascii(bytes, 8) !== 'WAVE') throw notAWav(bytes);
    this.state = { kind: 'chunk' };
    return 12;
  }

  private readChunkHeader(bytes: Uint8Array): number {
    if (bytes.length < 8) return 0;
    const id = ascii(bytes, 0);
    const size = new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true);
    if (id === 'data' && this.promised === null) {
      this.startData(size);
    } else if (!/^[\x20-\x7e]{4}$/.test(id)) {
      this.state = { kind: 'rest' };
      return this.step(bytes);
    } else if ((id === 'fmt ' || id === 'ds64') && size <= LARGEST_KEPT_CHUNK) {
      this.state = size === 0 ? { kind: 'chunk' } : { kind: 'body', id, size };
    } else {
      this.state = size === 0 ? { kind: 'chunk' } : { kind: 'skip', left: size + (size % 2) };
    }
    return 8;
  }

  private readBody(id: string, body: Uint8Array): void {
    if (id === 'fmt ' && !this.format) {
      this.format = parseFormat(body);
      this.onFormat(this.format);
    } else if (id === 'ds64' && body.length >= 16) {
      const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
      this.longDataSize = view.getUint32(8, true) + view.getUint32(12, true) * 4294967296;
    }
  }

  private startData(size: number): void {
    if (!this.format) {
      throw new UndercroftError(
        'damaged-audio',
        'The samples come before the fmt chunk, so what they are is not told.',
      );
    }
    const real = size === UNKNOWN_SIZE && this.longDataSize !== null ? this.longDataSize : size;
    if (real === UNKNOWN_SIZE || real === 0) {
      // Writers that could not seek back leave the length open; what follows to the end of the file is sound.
      this.promised = 0;
      this.state = { kind: 'data', left: Number.POSITIVE_INFINITY, open: true };
    } else {
      this.promised = real;
      this.state = { kind: 'data', left: real, open: false };
    }
  }

  private readData(state: { left: number; open: boolean }, bytes: Uint8Array): number {
    if (state.open && this.dataBytes === 0) {
      // A length of 0 followed by another chunk really is an empty data chunk.
      if (bytes.length < 8) return 0;
      if (/^(LIST|fact|cue |smpl|bext|id3 |ID3 |inst|JUNK|PEAK|iXML)$/.test(ascii(bytes, 0))) {
        this.state = { kind: 'chunk' };
        return this.readChunkHeader(bytes);
      }
      this.warnings.push('The header leaves the length of the sound open; it was read to the end of the file.');
    }
    const used = Math.min(state.left, bytes.length);
    this.dataBytes += used;
    state.left -= used;
    this.onData(bytes.subarray(0, used));
    if (state.left === 0) {
      this.state = (this.promised as number) % 2 === 1 ? { kind: 'skip', left: 1 } : { kind: 'chunk' };
    }
    return used;
  }
}

function ascii(bytes: Uint8Array, at: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + 4));
}

function notAWav(head: Uint8Array): UndercroftError {
  const kind = guessKind(head);
  return new UndercroftError(
    'not-audio',
    `This is not a WAV file${kind ? `; it looks like ${kind}` : ''}. WAV files (RIFF or RF64) can be imported.`,
  );
}
