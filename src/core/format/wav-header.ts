import { UndercroftError } from '../errors';
import { encodingFor, type PcmFormat, requirePlausible } from './pcm';

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
export function parseFormat(body: Uint8Array): PcmFormat {
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
  requirePlausible(sampleRate, channelCount);
  // Some writers give the valid bits (20, say) where the container's belong: the block size then tells the container.
  const perSample = blockAlign % channelCount === 0 ? (blockAlign / channelCount) * 8 : 0;
  const container = perSample >= bits && perSample - bits < 16 ? perSample : Math.ceil(bits / 8) * 8;
  const encoding = encodingFor(container, tag === IEEE_FLOAT);
  return { encoding, sampleRate, channelCount, validBits: Math.min(validBits, container) };
}
