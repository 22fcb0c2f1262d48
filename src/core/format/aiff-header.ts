import { UndercroftError } from '../errors';
import { chunkId } from './iff-stream';
import { encodingFor, type PcmFormat, requirePlausible } from './pcm';

/** Contents of the COMM chunk. */
export interface AiffCommon {
  readonly format: PcmFormat;
  readonly frames: number;
  readonly bigEndian: boolean;
  /** 8-bit samples are signed in AIFF. */
  readonly signedBytes: boolean;
}

/** Compression types of uncompressed data: byte order, and integer or float (AIFF-C draft 8/26/91 and QuickTime). */
const PLAIN: Readonly<Record<string, { big: boolean; float: boolean; bits?: number; unsigned?: boolean }>> = {
  NONE: { big: true, float: false },
  twos: { big: true, float: false },
  sowt: { big: false, float: false },
  'raw ': { big: true, float: false, unsigned: true },
  in24: { big: true, float: false, bits: 24 },
  in32: { big: true, float: false, bits: 32 },
  fl32: { big: true, float: true, bits: 32 },
  FL32: { big: true, float: true, bits: 32 },
  fl64: { big: true, float: true, bits: 64 },
  FL64: { big: true, float: true, bits: 64 },
};

const COMPRESSED: Readonly<Record<string, string>> = {
  ulaw: 'mu-law',
  ULAW: 'mu-law',
  alaw: 'A-law',
  ALAW: 'A-law',
  ima4: 'IMA ADPCM',
  MAC3: 'MACE 3:1',
  MAC6: 'MACE 6:1',
  'GSM ': 'GSM 6.10',
};

/** Parses a COMM chunk. Throws `damaged-audio` or `unsupported-audio`. */
export function parseCommon(body: Uint8Array): AiffCommon {
  if (body.length < 18)
    throw new UndercroftError('damaged-audio', `The COMM chunk holds ${body.length} bytes; at least 18 are needed.`);
  const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
  const channelCount = view.getInt16(0, false);
  const frames = view.getUint32(2, false);
  const bits = view.getInt16(6, false);
  const sampleRate = Math.round(readExtended(view, 8));
  const type = body.length >= 22 ? chunkId(body, 18) : 'NONE';
  const plain = PLAIN[type];
  if (!plain) {
    throw new UndercroftError(
      'unsupported-audio',
      `The AIFF-C file is compressed (${COMPRESSED[type] ?? type.trim()}). Save it as uncompressed PCM or float and import it again.`,
    );
  }
  requirePlausible(sampleRate, channelCount);
  const depth = plain.bits ?? bits;
  if (!plain.float && (depth < 1 || depth > 32))
    throw new UndercroftError('unsupported-audio', `Samples of ${depth} bits cannot be read; PCM audio has 1 to 32.`);
  const container = Math.ceil(depth / 8) * 8;
  const encoding = encodingFor(container, plain.float);
  return {
    format: { encoding, sampleRate, channelCount, validBits: plain.float ? container : depth },
    frames,
    bigEndian: plain.big && container > 8,
    signedBytes: encoding === 'u8' && plain.unsigned !== true,
  };
}

/** The 80-bit extended float of IEEE 754-1985 that holds the sample rate in AIFF; NaN for anything odd. */
export function readExtended(view: DataView, at: number): number {
  const head = view.getUint16(at, false);
  const high = view.getUint32(at + 2, false);
  const low = view.getUint32(at + 6, false);
  const exponent = head & 0x7fff;
  if (exponent === 0x7fff) return Number.NaN;
  const value = (high * 4294967296 + low) * 2 ** (exponent - 16383 - 63);
  return head & 0x8000 ? -value : value;
}

/** Samples with reversed bytes, or 8-bit ones made unsigned. Whole samples only. */
export function toLittleEndian(bytes: Uint8Array, width: number, signedBytes: boolean): Uint8Array {
  const out = new Uint8Array(bytes.length);
  if (signedBytes) {
    for (let i = 0; i < bytes.length; i++) out[i] = (bytes[i] as number) ^ 0x80;
    return out;
  }
  for (let i = 0; i < bytes.length; i += width) {
    for (let k = 0; k < width; k++) out[i + k] = bytes[i + width - 1 - k] as number;
  }
  return out;
}
