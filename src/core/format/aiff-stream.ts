import { UndercroftError } from '../errors';
import { type AiffCommon, parseCommon, toLittleEndian } from './aiff-header';
import { IffStream } from './iff-stream';
import { bytesPerFrame, type PcmFormat } from './pcm';
import { addTag, emptySaid, type Said, type SaidMark, tidyMarks } from './said';
import { decodeText } from './wav-chunks';
import type { FileReport } from './wav-stream';

const KEPT: ReadonlySet<string> = new Set(['COMM', 'MARK', 'INST', 'NAME', 'AUTH', '(c) ', 'ANNO', 'COMT']);
const TEXTS: Readonly<Record<string, string>> = {
  NAME: 'title',
  AUTH: 'artist',
  '(c) ': 'copyright',
  ANNO: 'comment',
};

/**
 * Reads an AIFF or AIFF-C file as it arrives, in pieces of any size: PCM of 1 to 32 bits and floats, big-endian or
 * (`sowt`) little. Samples are handed on little-endian, 8-bit ones unsigned, so that every file is stored alike; the
 * numbers are the file's own. Sources: Apple, "Audio Interchange File Format 1.3", 1989; "AIFF-C draft 8/26/91".
 *
 * Callbacks and errors as for `WavStream`.
 */
export class AiffStream {
  readonly kind = 'aiff';
  private readonly iff: IffStream;
  private readonly said: Said = emptySaid();
  private readonly markers = new Map<number, SaidMark>();
  private instrument: Uint8Array | null = null;
  private common: AiffCommon | null = null;
  private dataBytes = 0;
  private promised: number | null = null;
  /** Remaining bytes of the sound chunk's own header, offset included. */
  private header: Uint8Array = new Uint8Array(0);
  private toSkip = -1;
  private held: Uint8Array = new Uint8Array(0);

  constructor(
    private readonly onFormat: (format: PcmFormat) => void,
    private readonly onData: (bytes: Uint8Array) => void,
  ) {
    this.iff = new IffStream({
      bigEndian: true,
      form: (head) => {
        if (!/^FORM[\s\S]{4}AIF[FC]$/.test(String.fromCharCode(...head)))
          throw new UndercroftError('not-audio', 'This is not an AIFF file.');
      },
      plan: (id) => (id === 'SSND' && this.promised === null ? 'sound' : KEPT.has(id) ? 'keep' : 'skip'),
      body: (id, bytes) => this.readBody(id, bytes),
      sound: (bytes) => this.readSound(bytes),
      soundSize: (size) => this.startSound(size),
      reallyEmpty: () => false,
    });
  }

  push(bytes: Uint8Array): void {
    this.iff.push(bytes);
  }

  finish(): FileReport {
    if (this.iff.seen === 0) throw new UndercroftError('not-audio', 'The file is empty (0 bytes).');
    if (!this.common) {
      throw new UndercroftError(
        'damaged-audio',
        'The file ends before its COMM chunk; what the samples are is not told.',
      );
    }
    const { format, frames: says } = this.common;
    const frameBytes = bytesPerFrame(format);
    const frames = Math.floor(this.dataBytes / frameBytes);
    if (frames === 0)
      throw new UndercroftError('damaged-audio', 'The file has no sound: its SSND chunk is missing or empty.');
    const warnings: string[] = [];
    if (frames < says) {
      warnings.push(
        `The header promises ${says} frames, the file holds ${frames}: it was cut short. All there is was kept.`,
      );
    } else if (frames > says)
      warnings.push(`The header says ${says} frames, the file holds ${frames}. All there is was kept.`);
    if (this.dataBytes % frameBytes !== 0)
      warnings.push(`The last ${this.dataBytes % frameBytes} bytes are not a whole frame and were left out.`);
    if (this.iff.trailing > 0)
      warnings.push(`${this.iff.trailing} bytes after the last chunk belong to nothing and were passed over.`);
    this.said.marks.push(...tidyMarks([...this.markers.values()], frames));
    this.readInstrument(frames);
    return { format, frames, warnings, said: this.said };
  }

  private readBody(id: string, body: Uint8Array): void {
    if (id === 'COMM') {
      if (this.common) return;
      this.common = parseCommon(body);
      this.onFormat(this.common.format);
    } else if (id === 'MARK') this.readMarkers(body);
    else if (id === 'INST') this.instrument = body.slice();
    else if (id === 'COMT') readComments(body, this.said);
    else addTag(this.said, TEXTS[id] as string, decodeText(body));
  }

  private startSound(size: number): number {
    if (!this.common) {
      throw new UndercroftError(
        'damaged-audio',
        'The samples come before the COMM chunk, so what they are is not told.',
      );
    }
    this.promised = size;
    // A stream writer that could not seek back leaves 0 or the largest number.
    return size <= 8 || size === 0xffffffff ? Number.POSITIVE_INFINITY : size;
  }

  private readSound(bytes: Uint8Array): void {
    let rest = bytes;
    if (this.toSkip < 0) {
      const joined = new Uint8Array(this.header.length + rest.length);
      joined.set(this.header);
      joined.set(rest, this.header.length);
      if (joined.length < 8) {
        this.header = joined;
        return;
      }
      this.toSkip = new DataView(joined.buffer).getUint32(0, false);
      rest = joined.subarray(8);
    }
    const skipped = Math.min(this.toSkip, rest.length);
    this.toSkip -= skipped;
    rest = rest.subarray(skipped);
    if (rest.length === 0) return;
    const { format, bigEndian, signedBytes } = this.common as AiffCommon;
    this.dataBytes += rest.length;
    if (!bigEndian && !signedBytes) {
      this.onData(rest);
      return;
    }
    // A sample may span two pieces: its bytes wait for the next piece.
    const width = bytesPerFrame(format) / format.channelCount;
    const all = new Uint8Array(this.held.length + rest.length);
    all.set(this.held);
    all.set(rest, this.held.length);
    const whole = all.length - (all.length % width);
    this.held = all.slice(whole);
    this.onData(toLittleEndian(all.subarray(0, whole), width, signedBytes));
  }

  private readMarkers(body: Uint8Array): void {
    const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
    if (body.length < 2) return;
    const count = view.getUint16(0, false);
    let at = 2;
    for (let i = 0; i < count && at + 7 <= body.length; i++) {
      const id = view.getUint16(at, false);
      const frame = view.getUint32(at + 2, false);
      const length = body[at + 6] as number;
      this.markers.set(id, { frame, length: 0, label: decodeText(body.subarray(at + 7, at + 7 + length)) });
      // A counted string, padded so that the count and the text together are even.
      at += 7 + length + ((length + 1) % 2);
    }
  }

  private readInstrument(frames: number): void {
    const body = this.instrument;
    if (!body || body.length < 20) return;
    const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
    const note = view.getUint8(0);
    if (note > 0 && note <= 127) {
      this.said.rootNote = note;
      this.said.rootCents = Math.max(-50, Math.min(50, view.getInt8(1)));
    }
    const mode = view.getUint16(8, false);
    const start = this.markers.get(view.getUint16(10, false));
    const end = this.markers.get(view.getUint16(12, false));
    if (mode > 0 && start && end && start.frame < end.frame && end.frame <= frames)
      this.said.loops.push({ startFrame: start.frame, endFrame: end.frame });
  }
}

function readComments(body: Uint8Array, said: Said): void {
  if (body.length < 2) return;
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const count = view.getUint16(0, false);
  let at = 2;
  for (let i = 0; i < count && at + 8 <= body.length; i++) {
    const length = view.getUint16(at + 6, false);
    addTag(said, 'comment', decodeText(body.subarray(at + 8, at + 8 + length)));
    at += 8 + length + (length % 2);
  }
}
