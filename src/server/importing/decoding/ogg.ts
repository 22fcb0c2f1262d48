import { OggVorbisDecoder } from '@wasm-audio-decoders/ogg-vorbis';
import { OggOpusDecoder } from 'ogg-opus-decoder';
import { UndercroftError } from '@/core/errors';
import {
  brokenOff,
  type Decoded,
  damagedFrames,
  FloatFrames,
  freed,
  isDecoderFault,
  type PcmSink,
  quietly,
} from './sink';
import type { SourceFile } from './source-file';

/** Small, because a damaged place loses the whole piece it lies in. */
const PIECE_BYTES = 16 * 1024;

/** The codec of an Ogg stream, by its first packet: RFC 7845 (Opus), the Vorbis I specification, RFC 5334. */
function oggCodec(head: Uint8Array): string {
  const segments = head[26] ?? 0;
  const packet = String.fromCharCode(...head.subarray(27 + segments, 27 + segments + 8));
  if (packet.startsWith('\x01vorbis')) return 'vorbis';
  if (packet.startsWith('OpusHead')) return 'opus';
  if (packet.startsWith('\x7fFLAC')) return 'flac';
  if (packet.startsWith('Speex')) return 'Speex';
  if (packet.startsWith('\x80theora')) return 'Theora video';
  return 'an unknown kind';
}

interface Part {
  readonly channelData: Float32Array[];
  readonly samplesDecoded: number;
  readonly sampleRate: number;
  readonly errors: readonly unknown[];
}

/** Common interface of the two decoders. */
interface OggDecoder {
  readonly ready: Promise<void>;
  decode(bytes: Uint8Array): Part | Promise<Part>;
  flush(): Part | Promise<Part>;
  free(): void;
}

/** Decodes the sound of an Ogg file, with start and end as the file gives them, exact to the sample. */
export async function decodeOgg(file: SourceFile, sink: PcmSink): Promise<Decoded> {
  const head = file.head(512);
  const codec = oggCodec(head);
  if (codec === 'flac') {
    throw new UndercroftError('unsupported-audio', 'This is FLAC in an Ogg file; save it as plain FLAC.');
  }
  if (codec !== 'vorbis' && codec !== 'opus') {
    throw new UndercroftError('unsupported-audio', `The Ogg file holds ${codec}; Vorbis and Opus can be read.`);
  }
  const decoder: OggDecoder = codec === 'vorbis' ? new OggVorbisDecoder() : new OggOpusDecoder({ forceStereo: false });
  const floats = new FloatFrames(sink);
  let errors = 0;
  const broken: string[] = [];
  try {
    await decoder.ready;
    const add = (part: Part) => {
      errors += part.errors.length;
      if (part.samplesDecoded > 0) floats.push(part.channelData, part.sampleRate);
    };
    try {
      for await (const piece of file.pieces(PIECE_BYTES)) {
        add(await quietly(() => decoder.decode(piece)));
        if (floats.changed) break;
      }
      if (!floats.changed) add(await quietly(() => decoder.flush()));
    } catch (error) {
      if (!isDecoderFault(error) || floats.frames === 0) throw error;
      broken.push(brokenOff(floats.seconds));
    }
  } finally {
    freed(decoder);
  }
  const delay = codec === 'opus' ? { startFrames: preSkip(head), endFrames: 0 } : { startFrames: 0, endFrames: 0 };
  return { kind: codec, delay, warnings: [...broken, ...floats.warnings(), ...damagedFrames(errors)] };
}

/** Frames at 48 kHz that an Opus decoder drops at the start (RFC 7845, section 5.1). */
function preSkip(head: Uint8Array): number {
  const at = 27 + (head[26] ?? 0) + 10;
  return (head[at] ?? 0) | ((head[at + 1] ?? 0) << 8);
}
