import { UndercroftError } from '../errors';

/** Sample encodings of files and of the store: little-endian, channels interleaved. */
export type SampleEncoding = 'u8' | 's16' | 's24' | 's32' | 'f32' | 'f64';

export const BYTES_PER_SAMPLE: Readonly<Record<SampleEncoding, number>> = {
  u8: 1,
  s16: 2,
  s24: 3,
  s32: 4,
  f32: 4,
  f64: 8,
};

const LITTLE_ENDIAN = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;

/** Full scale of the integer encodings: the sample -1.0 is this many steps below zero. */
const FULL_SCALE = { u8: 128, s16: 32768, s24: 8388608, s32: 2147483648 } as const;

/** Format of the samples of a file or a recording. */
export interface PcmFormat {
  readonly encoding: SampleEncoding;
  readonly sampleRate: number;
  readonly channelCount: number;
  /** Significant bits; may be fewer than the container's (20 in 24, for example). */
  readonly validBits: number;
}

export function bytesPerFrame(format: Pick<PcmFormat, 'encoding' | 'channelCount'>): number {
  return BYTES_PER_SAMPLE[format.encoding] * format.channelCount;
}

export const LEAST_RATE = 8000;
export const GREATEST_RATE = 192000;
export const MOST_CHANNELS = 8;

/** Throws where a header names impossible channels or rates: `damaged-audio`, `unsupported-audio`. */
export function requirePlausible(sampleRate: number, channelCount: number): void {
  if (!(channelCount >= 1 && channelCount <= MOST_CHANNELS)) {
    throw new UndercroftError(
      'damaged-audio',
      `The file says it has ${channelCount} channels; 1 to ${MOST_CHANNELS} can be read.`,
    );
  }
  if (!(sampleRate >= LEAST_RATE && sampleRate <= GREATEST_RATE)) {
    throw new UndercroftError(
      'unsupported-audio',
      `The file says its sample rate is ${sampleRate} Hz; 8,000 to 192,000 Hz can be read.`,
    );
  }
}

export interface DecodeReport {
  /** Samples that were NaN or infinite and were replaced by zero. */
  notFinite: number;
}

/** A view of 16-bit samples, where byte order and alignment allow; else null. */
export function asInt16(bytes: Uint8Array, count: number): Int16Array | null {
  const aligned = LITTLE_ENDIAN && bytes.byteOffset % 2 === 0;
  return aligned ? new Int16Array(bytes.buffer, bytes.byteOffset, count) : null;
}

/**
 * Decodes interleaved bytes to one Float32Array a channel. Integers are divided by full scale, a power of two, so that
 * 8, 16 and 24 bits are exact in a float; 32-bit integers and 64-bit floats are rounded to the nearest float. NaN and
 * infinities become 0 and are counted. Bytes after the last whole frame are ignored.
 */
export function decodeFrames(
  encoding: SampleEncoding,
  bytes: Uint8Array,
  channelCount: number,
  report?: DecodeReport,
): Float32Array[] {
  const width = BYTES_PER_SAMPLE[encoding];
  const frames = Math.floor(bytes.byteLength / (width * channelCount));
  const channels = Array.from({ length: channelCount }, () => new Float32Array(frames));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let c = 0; c < channelCount; c++) {
    const out = channels[c] as Float32Array;
    const step = width * channelCount;
    let at = c * width;
    switch (encoding) {
      case 'u8':
        for (let i = 0; i < frames; i++, at += step) out[i] = ((bytes[at] as number) - 128) / 128;
        break;
      case 's16': {
        // Usually they can be read in place.
        const values = asInt16(bytes, frames * channelCount);
        if (values) for (let i = 0, k = c; i < frames; i++, k += channelCount) out[i] = (values[k] as number) / 32768;
        else for (let i = 0; i < frames; i++, at += step) out[i] = view.getInt16(at, true) / 32768;
        break;
      }
      case 's24':
        for (let i = 0; i < frames; i++, at += step) {
          const low = (bytes[at] as number) | ((bytes[at + 1] as number) << 8);
          out[i] = (low + view.getInt8(at + 2) * 65536) / 8388608;
        }
        break;
      case 's32':
        for (let i = 0; i < frames; i++, at += step) out[i] = view.getInt32(at, true) / 2147483648;
        break;
      case 'f32':
        for (let i = 0; i < frames; i++, at += step) out[i] = view.getFloat32(at, true);
        break;
      case 'f64':
        for (let i = 0; i < frames; i++, at += step) out[i] = view.getFloat64(at, true);
        break;
    }
    if (encoding === 'f32' || encoding === 'f64') {
      for (let i = 0; i < frames; i++) {
        if (!Number.isFinite(out[i] as number)) {
          out[i] = 0;
          if (report) report.notFinite++;
        }
      }
    }
  }
  return channels;
}

/**
 * The inverse of `decodeFrames`: interleaved little-endian bytes. Integers are rounded to the nearest step and clipped
 * to the encoding's range, so that what was decoded from 8, 16 or 24 bits comes back bit for bit.
 */
export function encodeFrames(encoding: SampleEncoding, channels: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
  const channelCount = channels.length;
  const frames = channels[0]?.length ?? 0;
  const width = BYTES_PER_SAMPLE[encoding];
  const bytes = new Uint8Array(frames * channelCount * width);
  if (encoding === 'f32' && LITTLE_ENDIAN) {
    const floats = new Float32Array(bytes.buffer);
    for (const [c, channel] of channels.entries())
      for (let i = 0, at = c; i < frames; i++, at += channelCount) floats[at] = channel[i] as number;
    return bytes;
  }
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (let i = 0; i < frames; i++) {
    for (let c = 0; c < channelCount; c++, at += width) {
      const x = (channels[c] as Float32Array)[i] as number;
      if (encoding === 'f32') view.setFloat32(at, x, true);
      else if (encoding === 'f64') view.setFloat64(at, x, true);
      else {
        const scale = FULL_SCALE[encoding];
        const step = Math.max(-scale, Math.min(scale - 1, Math.round(x * scale)));
        if (encoding === 'u8') bytes[at] = step + 128;
        else if (encoding === 's16') view.setInt16(at, step, true);
        else if (encoding === 's32') view.setInt32(at, step, true);
        else {
          view.setUint16(at, step & 0xffff, true);
          view.setInt8(at + 2, step >> 16);
        }
      }
    }
  }
  return bytes;
}

/** The encoding of uncompressed samples with this many bits in their container. */
export function encodingFor(bits: number, float: boolean): SampleEncoding {
  const found = float
    ? ({ 32: 'f32', 64: 'f64' } as const)[bits as 32]
    : ({ 8: 'u8', 16: 's16', 24: 's24', 32: 's32' } as const)[bits as 8];
  if (!found) {
    const right = float ? '32 or 64' : '8, 16, 24 or 32';
    throw new UndercroftError(
      'unsupported-audio',
      `Samples of ${bits} bits cannot be read; ${float ? 'floating-point' : 'PCM'} audio has ${right}.`,
    );
  }
  return found;
}
