import { UndercroftError } from '../errors';
import { IffStream } from './iff-stream';
import { nameKind, READABLE } from './kind';
import { bytesPerFrame, type PcmFormat } from './pcm';
import { emptySaid, type Said } from './said';
import { WAV_CHUNKS, WavChunks } from './wav-chunks';
import { parseFormat } from './wav-header';

/** Facts about a file after all of it has been read. */
export interface FileReport {
  readonly format: PcmFormat;
  /** Whole frames that were read. */
  readonly frames: number;
  /** Defects that were repaired, each a sentence for the person. */
  readonly warnings: readonly string[];
  /** What the file tells about its sound. */
  readonly said: Said;
}

const UNKNOWN_SIZE = 0xffffffff;
/** Chunks that may follow a data chunk of length 0, which is then really empty. */
const AFTER_DATA = /^(LIST|fact|cue |smpl|bext|id3 |ID3 |inst|JUNK|PEAK|iXML)$/;

/**
 * Reads a WAV, RF64 or BW64 (ITU-R BS.2088) file as it arrives, in pieces of any size, holding only its descriptive
 * chunks.
 *
 * Sources: IBM & Microsoft 1991 (RIFF), EBU Tech 3306 (RF64 and ds64). Where the header is wrong, the samples win: a
 * data chunk longer than the file, or of unknown length, is read to the file's end, and that is reported.
 *
 * `onFormat` is called once, before any data; `onData` with the raw bytes of the data chunk in order. Throws
 * `not-audio`, `unsupported-audio` or `damaged-audio` from `push` or `finish`.
 */
export class WavStream {
  readonly kind = 'wav';
  private readonly chunks = new WavChunks();
  private readonly iff: IffStream;
  private format: PcmFormat | null = null;
  private dataBytes = 0;
  private promised: number | null = null;
  private longDataSize: number | null = null;
  private open = false;

  constructor(
    private readonly onFormat: (format: PcmFormat) => void,
    private readonly onData: (bytes: Uint8Array) => void,
  ) {
    this.iff = new IffStream({
      bigEndian: false,
      form: (head) => {
        const text = String.fromCharCode(...head);
        if (!/^(RIFF|RF64|BW64)/.test(text) || !text.endsWith('WAVE')) throw notAWav(head);
      },
      plan: (id) => {
        if (id === 'data' && this.promised === null) return 'sound';
        return id === 'fmt ' || id === 'ds64' || WAV_CHUNKS.has(id) ? 'keep' : 'skip';
      },
      body: (id, bytes) => this.readBody(id, bytes),
      sound: (bytes) => {
        this.dataBytes += bytes.length;
        this.onData(bytes);
      },
      soundSize: (size) => this.startData(size),
      reallyEmpty: (next) => AFTER_DATA.test(next),
    });
  }

  push(bytes: Uint8Array): void {
    this.iff.push(bytes);
  }

  finish(): FileReport {
    if (this.iff.seen === 0) throw new UndercroftError('not-audio', 'The file is empty (0 bytes).');
    if (this.iff.formMissing) throw notAWav(this.iff.head);
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
    const warnings: string[] = [];
    if (this.open && this.dataBytes > 0)
      warnings.push('The header leaves the length of the sound open; it was read to the end of the file.');
    if (this.promised !== null && this.dataBytes < this.promised) {
      const says = Math.floor(this.promised / frameBytes);
      warnings.push(
        `The header promises ${says} frames, the file holds ${frames}: it was cut short. All there is was kept.`,
      );
    }
    if (this.dataBytes % frameBytes !== 0) {
      warnings.push(`The last ${this.dataBytes % frameBytes} bytes are not a whole frame and were left out.`);
    }
    if (this.iff.trailing > 0)
      warnings.push(`${this.iff.trailing} bytes after the last chunk belong to nothing and were passed over.`);
    if (frames === 0)
      throw new UndercroftError('damaged-audio', 'The data chunk is empty: there is no sound in the file.');
    const said = this.chunks.said(frames) ?? emptySaid();
    return { format: this.format, frames, warnings: [...warnings, ...this.chunks.warnings], said };
  }

  private readBody(id: string, body: Uint8Array): void {
    if (id === 'fmt ') {
      if (this.format) return;
      this.format = parseFormat(body);
      this.onFormat(this.format);
    } else if (id === 'ds64') {
      if (body.length < 16) return;
      const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
      this.longDataSize = view.getUint32(8, true) + view.getUint32(12, true) * 4294967296;
    } else this.chunks.take(id, body);
  }

  private startData(size: number): number {
    if (!this.format) {
      throw new UndercroftError(
        'damaged-audio',
        'The samples come before the fmt chunk, so what they are is not told.',
      );
    }
    const real = size === UNKNOWN_SIZE && this.longDataSize !== null ? this.longDataSize : size;
    // Writers that could not seek leave the length open; everything up to the end of the file is sound.
    this.open = real === UNKNOWN_SIZE || real === 0;
    this.promised = this.open ? 0 : real;
    return this.open ? Number.POSITIVE_INFINITY : real;
  }
}

function notAWav(head: Uint8Array): UndercroftError {
  const kind = nameKind(head);
  return new UndercroftError(
    'not-audio',
    `This is not a WAV file${kind ? `; it looks like ${kind}` : ''}. ${READABLE}.`,
  );
}
