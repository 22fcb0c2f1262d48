import type { RawOptions } from '@audio/decode-aac';
import { EncodedPacketSink, FilePathSource, Input, type InputAudioTrack, MP4, QTFF } from 'mediabunny';
import { UndercroftError } from '@/core/errors';
import { encodeFrames } from '@/core/format/pcm';
import { type Decoded, damagedFrames, FloatFrames, freed, isDecoderFault, type PcmSink, quietly } from './sink';
import type { SourceFile } from './source-file';

/** The AAC decoder is a package with its own licence that an installation may omit; see docs/third-party.md. */
async function openAac(options: RawOptions | undefined) {
  let library: typeof import('@audio/decode-aac');
  try {
    library = await import('@audio/decode-aac');
  } catch {
    throw new UndercroftError(
      'unsupported-audio',
      'AAC cannot be read: the optional package @audio/decode-aac is not installed. Install it, or save the file as WAV or FLAC.',
    );
  }
  return library.decoder(options);
}

/** Packets passed to the decoder at once. */
const PACKETS = 16;

/** Decodes raw AAC frames with ADTS headers, which do not tell the encoder's delay. */
export async function decodeAdts(file: SourceFile, sink: PcmSink): Promise<Decoded> {
  const decoder = await openAac(undefined);
  const floats = new FloatFrames(sink);
  try {
    for await (const piece of file.pieces()) {
      const { channelData, sampleRate } = decoder.decode(piece);
      if (channelData.length > 0) floats.push(channelData, sampleRate);
      if (floats.changed) break;
    }
  } catch (error) {
    if (!isDecoderFault(error)) throw error;
    throw new UndercroftError('damaged-audio', `The AAC stream cannot be decoded: ${(error as Error).message}.`);
  } finally {
    freed(decoder);
  }
  const untold =
    "A bare AAC stream does not tell its encoder's delay, so nothing was cut: sounds may lie late by up to 50 ms.";
  return { kind: 'aac', delay: null, warnings: [untold, ...floats.warnings()] };
}

/** Decodes the sound of an M4A (MP4) file: AAC, or Apple Lossless bit for bit. */
export async function decodeMp4(file: SourceFile, sink: PcmSink): Promise<Decoded> {
  const input = new Input({ source: new FilePathSource(file.path), formats: [MP4, QTFF] });
  try {
    const track = await firstTrack(input);
    const cookie = track.codec === null ? alacCookie(file) : null;
    if (track.codec !== 'aac' && !cookie) {
      throw new UndercroftError(
        'unsupported-audio',
        `The MP4 file holds ${track.codec ?? 'sound of an unknown kind'}; AAC and Apple Lossless can be read in it.`,
      );
    }
    const first = await track.getFirstTimestamp();
    const end = await track.computeDuration();
    // A track that begins before zero tells how much of its start is encoder delay (ISO/IEC 14496-12, 8.6.6).
    const told = first < 0;
    const gapless = told ? { start: -first, duration: end } : undefined;
    if (cookie) return await decodeLossless(packetGroups(track, file, end), cookie, sink);
    const config = await track.getDecoderConfig();
    if (!config?.description) throw new UndercroftError('damaged-audio', 'The AAC track does not say how it is coded.');
    const asc = new Uint8Array(config.description as ArrayBuffer | Uint8Array<ArrayBuffer>);
    const decoder = await openAac({ asc, ...(gapless ? { gapless } : {}) });
    const floats = new FloatFrames(sink);
    let failed = 0;
    try {
      for await (const packets of packetGroups(track, file, end)) {
        const part = decoder.decode(packets) as { channelData: Float32Array[]; sampleRate: number; errors?: number };
        failed += part.errors ?? 0;
        if (part.channelData.length > 0) floats.push(part.channelData, part.sampleRate);
        if (floats.changed) break;
      }
    } finally {
      freed(decoder);
    }
    const rate = track.sampleRate;
    const delay = told ? { startFrames: Math.round(-first * rate), endFrames: 0 } : null;
    const untold = told
      ? []
      : ["The file does not tell its encoder's delay, so nothing was cut: sounds may lie late by up to 50 ms."];
    // The decoder gives no output for its first packet.
    return {
      kind: 'aac',
      delay,
      warnings: [...untold, ...floats.warnings(), ...damagedFrames(Math.max(0, failed - 1))],
    };
  } catch (error) {
    if (!isDecoderFault(error)) throw error;
    throw new UndercroftError('damaged-audio', `The MP4 file cannot be read: ${(error as Error).message}`);
  } finally {
    input.dispose();
  }
}

async function firstTrack(input: Input): Promise<InputAudioTrack> {
  const track = await quietly(() => input.getPrimaryAudioTrack());
  if (!track) throw new UndercroftError('not-audio', 'There is no sound in this MP4 file.');
  return track;
}

/** The packets of a track, some at a time; `seconds` is its length, for the progress. */
async function* packetGroups(track: InputAudioTrack, file: SourceFile, seconds: number): AsyncGenerator<Uint8Array[]> {
  let group: Uint8Array[] = [];
  let bytes = 0;
  let count = 0;
  for await (const packet of new EncodedPacketSink(track).packets()) {
    bytes += packet.data.length;
    if (bytes > file.bytes || ++count > file.bytes)
      throw new UndercroftError(
        'damaged-audio',
        'The MP4 file is damaged: its table tells of more sound than it holds.',
      );
    group.push(packet.data);
    if (group.length < PACKETS) continue;
    yield group;
    group = [];
    await file.tell(packet.timestamp / Math.max(1e-3, seconds));
  }
  if (group.length > 0) yield group;
}

/** The 24 bytes that an Apple Lossless decoder needs, from the box of that name in the file's header, or null. */
function alacCookie(file: SourceFile): Uint8Array | null {
  const box = Buffer.from([0, 0, 0, 36, ...Buffer.from('alac'), 0, 0, 0, 0]);
  for (const part of [file.head(4 * 1024 * 1024), file.tail(4 * 1024 * 1024)]) {
    const at = Buffer.from(part.buffer, part.byteOffset, part.length).indexOf(box);
    if (at >= 0 && at + 36 <= part.length) return part.slice(at + 12, at + 36);
  }
  return null;
}

async function decodeLossless(
  groups: AsyncIterable<Uint8Array[]>,
  cookie: Uint8Array,
  sink: PcmSink,
): Promise<Decoded> {
  const bits = cookie[5] as number;
  if (bits !== 16 && bits !== 24)
    throw new UndercroftError('unsupported-audio', `Apple Lossless of ${bits} bits cannot be read; 16 and 24 can.`);
  const decoder = await openAac({ alac: cookie });
  const encoding = bits === 16 ? 's16' : 's24';
  let begun = false;
  try {
    for await (const packets of groups) {
      const { channelData, sampleRate } = decoder.decode(packets);
      if (channelData.length === 0) continue;
      if (!begun) sink.begin({ encoding, sampleRate, channelCount: channelData.length, validBits: bits });
      begun = true;
      sink.take(encodeFrames(encoding, channelData));
    }
  } finally {
    freed(decoder);
  }
  return { kind: 'alac', delay: null, warnings: [] };
}
