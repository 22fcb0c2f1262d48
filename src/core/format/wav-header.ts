import { UndercroftError } from '../errors';
import { BYTES_PER_SAMPLE, encodingFor, type SampleEncoding } from './pcm';

/** What the fmt chunk of a WAV file says, reduced to what can be read. */
export interface WavFormat {
  readonly encoding: SampleEncoding;
  readonly sampleRate: number;
  readonly channelCount: number;
  /** Bits that carry sound; may be fewer than the container's (20 in 24, say). */
  readonly validBits: number;
}

const PCM = 0x0001;
const IEEE_FLOAT = 0x0003;
const EXTENSIBLE = 0xfffe;

/** Names of compressed formats, from the registered wave format list (RFC 2361). */
const COMPRESSED: Readonly<Record<number, string>> = {
  2: 'Microsoft ADPCM',
  6: 'A-law',
  7: 'mu-law',
  17: 'IMA ADPCM',
  49: 'GSM 6.10',
  80: 'MPEG layer 2',
  85: 'MP3',
  255: 'AAC',
  8192: 'AC-3',
};

/** The GUID tail after the two format bytes of WAVE_FORMAT_EXTENSIBLE (Microsoft, KSDATAFORMAT_SUBTYPE_*). */
const SUBTYPE_TAIL = [0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71];

/**
 * Parses the body of a fmt chunk (IBM & Microsoft, "Multimedia Programming Interface and Data Specifications 1.0",
 * 1991; Microsoft, "Multiple channel audio data and WAVE files", 2001). Throws `unsupported-audio` or `damaged-audio`.
 */
export function parseFormat(body: Uint8Array): WavFormat {
  if (body.length < 16) {
    throw new UndercroftError('damaged-audio', `The fmt chunk holds ${body.length} bytes; at least 16 are needed.`);
  }
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  let tag = view.getUint16(0, true);
  const channelCount = view.getUint16(2, true);
  const sampleRate = view.getUint32(4, true);
  const blockAlign = view.getUint16(12, true);
  const bits = view.getUint16(14, true);
  let validBits = bits;
  if (tag === EXTENSIBLE) {
    if (body.length < 40) {
      throw new UndercroftError('damaged-audio', 'The extensible fmt chunk is cut short; it needs 40 bytes.');
    }
    validBits = view.getUint16(18, true) || bits;
    tag = view.getUint16(24, true);
    if (SUBTYPE_TAIL.some((byte, i) => body[26 + i] !== byte)) {
      throw new UndercroftError('unsupported-audio', 'The sample format is a private one; PCM or float is needed.');
    }
  }
  if (tag !== PCM && tag !== IEEE_FLOAT) {
    const name = COMPRESSED[tag] ?? `format 0x${tag.toString(16).padStart(4, '0')}`;
    throw new UndercroftError(
      'unsupported-audio',
      `The WAV file is compressed (${name}). Save it as uncompressed PCM or float and import it again.`,
    );
  }
  if (channelCount < 1 || channelCount > 8) {
    throw new UndercroftError('damaged-audio', `The file says it has ${channelCount} channels; 1 to 8 can be read.`);
  }
  if (sampleRate < 8000 || sampleRate > 192000) {
    throw new UndercroftError(
      'unsupported-audio',
      `The file says its sample rate is ${sampleRate} Hz; 8,000 to 192,000 Hz can be read.`,
    );
  }
  // Some writers give the valid bits (20, say) where the container's belong: the block size then tells the container.
  const perSample = blockAlign % channelCount === 0 ? (blockAlign / channelCount) * 8 : 0;
  const container = perSample >= bits && perSample - bits < 16 ? perSample : Math.ceil(bits / 8) * 8;
  const encoding = encodingFor(container, tag === IEEE_FLOAT);
  return { encoding, sampleRate, channelCount, validBits: Math.min(validBits, container) };
}

export function bytesPerFrame(format: Pick<WavFormat, 'encoding' | 'channelCount'>): number {
  return BYTES_PER_SAMPLE[format.encoding] * format.channelCount;
}

/** What a file that is not a WAV seems to be, by its first bytes, or null. */
export function guessKind(head: Uint8Array): string | null {
  const text = String.fromCharCode(...head.subarray(0, 12));
  if (text.startsWith('fLaC')) return 'a FLAC file';
  if (text.startsWith('OggS')) return 'an Ogg file';
  if (text.startsWith('FORM')) return 'an AIFF file';
  if (text.startsWith('ID3') || (head[0] === 0xff && ((head[1] ?? 0) & 0xe0) === 0xe0)) return 'an MP3 file';
  if (text.slice(4, 8) === 'ftyp') return 'an MP4 file';
  if (text.startsWith('RIFX')) return 'a big-endian WAV file (RIFX)';
  if (text.startsWith('PK')) return 'a zip file';
  if (text.startsWith('\x89PNG') || text.startsWith('GIF8') || text.startsWith('\xff\xd8')) return 'a picture';
  if (text.startsWith('%PDF')) return 'a PDF document';
  return null;
}
