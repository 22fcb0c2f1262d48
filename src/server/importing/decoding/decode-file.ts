import type { StoredKind } from '@/contract/views';
import { never, UndercroftError } from '@/core/errors';
import { AiffStream } from '@/core/format/aiff-stream';
import { type FileKind, guessOther, HEAD_BYTES, id3Length, READABLE, recogniseKind } from '@/core/format/kind';
import { emptySaid, type Said } from '@/core/format/said';
import { WavStream } from '@/core/format/wav-stream';
import { type Decoded, isDecoderFault, type PcmSink } from './sink';
import { SourceFile } from './source-file';

/** Facts about a whole file besides its sound. */
export interface FileFindings {
  readonly kind: StoredKind;
  readonly warnings: readonly string[];
  readonly said: Said;
}

/** Uncompressed data does not expand, so it is read in larger pieces. */
const PLAIN_PIECE_BYTES = 512 * 1024;

/** The kind of a file by its content; throws `not-audio` with what it seems to be. */
export function requireKind(head: Uint8Array, totalBytes: number): FileKind {
  const kind = recogniseKind(head);
  if (kind) return kind;
  if (totalBytes === 0) throw new UndercroftError('not-audio', 'The file is empty (0 bytes).');
  const other = guessOther(head);
  throw new UndercroftError(
    'not-audio',
    `This is not a sound file that can be read${other ? `; it looks like ${other}` : ''}. ${READABLE}.`,
  );
}

/** Uncompressed files are read as they arrive; compressed ones need the whole file. */
export function openStream(kind: FileKind, sink: PcmSink): WavStream | AiffStream | null {
  if (kind === 'wav')
    return new WavStream(
      (format) => sink.begin(format),
      (bytes) => sink.take(bytes),
    );
  if (kind === 'aiff')
    return new AiffStream(
      (format) => sink.begin(format),
      (bytes) => sink.take(bytes),
    );
  return null;
}

/**
 * Decodes a file on the disk, of any kind and length, in pieces. `progress` is called with 0..1 and may throw to stop.
 * Throws `not-audio`, `unsupported-audio` or `damaged-audio`.
 */
export async function decodeFile(
  path: string,
  sink: PcmSink,
  progress: (share: number) => void = () => {},
): Promise<FileFindings> {
  const file = new SourceFile(path, progress);
  try {
    const kind = kindOf(file);
    const stream = openStream(kind, sink);
    if (stream) {
      for await (const piece of file.passingPieces(PLAIN_PIECE_BYTES)) stream.push(piece);
      const { warnings, said } = stream.finish();
      return { kind: stream.kind, warnings, said };
    }
    const decoded = await named(decodeCompressed(kind, file, sink));
    const { readTags } = await import('./tags');
    const said = await readTags(path);
    return { kind: decoded.kind, warnings: decoded.warnings, said: { ...(said ?? emptySaid()), delay: decoded.delay } };
  } finally {
    file.close();
  }
}

/** Most zeros skipped behind a tag. */
const MOST_PADDING = 64 * 1024 * 1024;

/** The kind of a file by the bytes after its ID3v2 tags and their padding; the file then starts there. */
function kindOf(file: SourceFile): FileKind {
  let at = 0;
  for (let length = id3Length(file.read(0, 10)); length > 0; length = id3Length(file.read(at, 10))) at += length;
  if (at === 0) return requireKind(file.head(HEAD_BYTES), file.bytes);
  const begun = firstNotZero(file, at);
  const kind = recogniseKind(file.read(begun, HEAD_BYTES));
  // Where the tag's length is wrong, frames are searched in the whole file.
  file.start = kind === null ? 0 : begun;
  return kind ?? 'mp3';
}

function firstNotZero(file: SourceFile, from: number): number {
  const end = Math.min(file.bytes, from + MOST_PADDING);
  for (let at = from; at < end; ) {
    const piece = file.read(at, 64 * 1024);
    const found = piece.findIndex((byte) => byte !== 0);
    if (found >= 0) return at + found;
    at += piece.length;
  }
  return from;
}

/** Errors of decoders mean a damaged file; errors of the disk or the store are kept. */
async function named(work: Promise<Decoded>): Promise<Decoded> {
  try {
    return await work;
  } catch (error) {
    if (!isDecoderFault(error)) throw error;
    throw new UndercroftError(
      'damaged-audio',
      `The file is damaged: its sound cannot be decoded (${(error as Error).message}).`,
    );
  }
}

/** Decoders are loaded for the first file of their kind: together they hold tens of megabytes. */
async function decodeCompressed(kind: FileKind, file: SourceFile, sink: PcmSink): Promise<Decoded> {
  switch (kind) {
    case 'mp3':
      return (await import('./mp3')).decodeMp3(file, sink);
    case 'flac':
      return (await import('./flac')).decodeFlac(file, sink);
    case 'ogg':
      return (await import('./ogg')).decodeOgg(file, sink);
    case 'adts':
      return (await import('./aac')).decodeAdts(file, sink);
    case 'mp4':
      return (await import('./aac')).decodeMp4(file, sink);
    case 'wav':
    case 'aiff':
      throw new Error(`${kind} files are read as they arrive`);
    default:
      return never(kind);
  }
}
