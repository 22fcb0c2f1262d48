import { chunkId } from './iff-stream';
import { addTag, emptySaid, MOST_MARKS, type Said, type SaidMark, tidyMarks } from './said';

/** Descriptive chunks of a WAV file that are read. */
export const WAV_CHUNKS: ReadonlySet<string> = new Set(['LIST', 'cue ', 'smpl', 'inst', 'bext']);

/** Tags of a LIST INFO chunk (IBM & Microsoft 1991, "INFO list chunk") that are relevant to the sound. */
const INFO: Readonly<Record<string, string>> = {
  INAM: 'title',
  IART: 'artist',
  IPRD: 'album',
  ICMT: 'comment',
  ICOP: 'copyright',
  ICRD: 'date',
  IGNR: 'genre',
  IKEY: 'keywords',
  ISBJ: 'subject',
  ISRC: 'source',
  ISFT: 'made with',
  IENG: 'engineer',
  ITRK: 'track',
  IBPM: 'tempo',
};

/**
 * Collects metadata from the descriptive chunks of a WAV file. A truncated or corrupt chunk is read as far as it is
 * plausible. Sources: IBM & Microsoft 1991 and Microsoft 1994 (cue, LIST adtl, smpl, inst); EBU Tech 3285 (bext).
 */
export class WavChunks {
  readonly warnings: string[] = [];
  private readonly kept: { id: string; view: DataView; bytes: Uint8Array }[] = [];

  take(id: string, body: Uint8Array): void {
    const bytes = body.slice();
    this.kept.push({ id, bytes, view: new DataView(bytes.buffer) });
  }

  /** All metadata, for a recording of so many frames; null where there were no such chunks. */
  said(frames: number): Said | null {
    if (this.kept.length === 0) return null;
    const said = emptySaid();
    const points = new Map<number, { frame: number; length: number; label: string }>();
    for (const { id, view } of this.kept) if (id === 'cue ') readCue(view, points);
    for (const { id, view, bytes } of this.kept) {
      if (id === 'LIST') readList(bytes, view, said, points);
      else if (id === 'smpl') readSampler(view, said, frames);
      else if (id === 'inst') readInstrument(view, said);
      else if (id === 'bext') readBroadcast(bytes, view, said);
    }
    const marks: SaidMark[] = [...points.values()];
    said.marks.push(...tidyMarks(marks, frames));
    const outside = marks.filter((m) => m.frame >= frames).length;
    if (outside > 0) this.warnings.push(`${outside} of the file's marks lie after its end and were left out.`);
    return said;
  }
}

type Points = Map<number, { frame: number; length: number; label: string }>;

function readCue(view: DataView, points: Points): void {
  if (view.byteLength < 4) return;
  const count = Math.min(view.getUint32(0, true), Math.floor((view.byteLength - 4) / 24), MOST_MARKS);
  for (let i = 0; i < count; i++) {
    const at = 4 + i * 24;
    points.set(view.getUint32(at, true), { frame: view.getUint32(at + 20, true), length: 0, label: '' });
  }
}

function readList(bytes: Uint8Array, view: DataView, said: Said, points: Points): void {
  const type = chunkId(bytes, 0);
  if (type !== 'INFO' && type !== 'adtl') return;
  for (let at = 4; at + 8 <= bytes.length; ) {
    const id = chunkId(bytes, at);
    const size = view.getUint32(at + 4, true);
    const body = bytes.subarray(at + 8, Math.min(bytes.length, at + 8 + size));
    if (type === 'INFO') {
      const name = INFO[id];
      if (name) addTag(said, name, decodeText(body));
    } else readAssociated(id, body, points);
    at += 8 + size + (size % 2);
  }
}

/** Names and lengths of cue points: `labl` and `note` name one, `ltxt` gives it a length. */
function readAssociated(id: string, body: Uint8Array, points: Points): void {
  if (body.length < 4) return;
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const point = points.get(view.getUint32(0, true));
  if (!point) return;
  if (id === 'labl') point.label = decodeText(body.subarray(4));
  else if (id === 'note' && point.label === '') point.label = decodeText(body.subarray(4));
  else if (id === 'ltxt' && body.length >= 20) {
    point.length = view.getUint32(4, true);
    if (point.label === '') point.label = decodeText(body.subarray(20));
  }
}

function readSampler(view: DataView, said: Said, frames: number): void {
  if (view.byteLength < 36) return;
  const note = view.getUint32(12, true);
  const fraction = view.getUint32(16, true);
  if (note <= 127) {
    said.rootNote = note;
    // A fraction of a semitone above the note, in 2^-32 (Microsoft 1994).
    said.rootCents = Math.round((fraction / 4294967296) * 1000) / 10;
  }
  const count = Math.min(view.getUint32(28, true), Math.floor((view.byteLength - 36) / 24), 64);
  for (let i = 0; i < count; i++) {
    const startFrame = view.getUint32(36 + i * 24 + 8, true);
    // The file's end is the last frame played: inclusive.
    const endFrame = view.getUint32(36 + i * 24 + 12, true) + 1;
    if (startFrame < endFrame && endFrame <= frames) said.loops.push({ startFrame, endFrame });
  }
}

function readInstrument(view: DataView, said: Said): void {
  if (view.byteLength < 7) return;
  const note = view.getUint8(0);
  if (note > 127 || said.rootNote !== null) return;
  said.rootNote = note;
  said.rootCents = Math.max(-50, Math.min(50, view.getInt8(1)));
}

function readBroadcast(bytes: Uint8Array, view: DataView, said: Said): void {
  if (bytes.length < 348) return;
  addTag(said, 'description', decodeText(bytes.subarray(0, 256)));
  addTag(said, 'originator', decodeText(bytes.subarray(256, 288)));
  addTag(said, 'originator reference', decodeText(bytes.subarray(288, 320)));
  addTag(said, 'date', decodeText(bytes.subarray(320, 330)));
  addTag(said, 'time', decodeText(bytes.subarray(330, 338)));
  const reference = view.getUint32(338, true) + view.getUint32(342, true) * 4294967296;
  if (reference > 0 && Number.isSafeInteger(reference)) said.timeReference = reference;
  if (bytes.length > 602) addTag(said, 'coding history', decodeText(bytes.subarray(602)));
}

/** Text up to its first zero byte: UTF-8 where it is that, Latin-1 otherwise, since the chunk does not say. */
export function decodeText(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  const text = end < 0 ? bytes : bytes.subarray(0, end);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(text);
  } catch {
    return new TextDecoder('latin1').decode(text);
  }
}
