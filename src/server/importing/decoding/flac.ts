import { createHash } from 'node:crypto';
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { UndercroftError } from '@/core/errors';
import { id3Length } from '@/core/format/kind';
import { type PcmFormat, requirePlausible, type SampleEncoding } from '@/core/format/pcm';
import { brokenOff, type Decoded, damagedFrames, freed, isDecoderFault, type PcmSink, quietly } from './sink';
import type { SourceFile } from './source-file';

interface StreamInfo {
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly bits: number;
  /** 0 where the writer did not know. */
  readonly frames: number;
  /** MD5 of the samples as hexadecimal; null where it was not written. */
  readonly md5: string | null;
}

/** The STREAMINFO block that every FLAC file begins with (RFC 9639, section 8.2). */
function readStreamInfo(head: Uint8Array): StreamInfo {
  const at = Math.min(head.length, id3Length(head)) + 4;
  if (head.length < at + 38 || ((head[at] as number) & 0x7f) !== 0)
    throw new UndercroftError('damaged-audio', 'The FLAC file ends before its STREAMINFO block, or has none.');
  const view = new DataView(head.buffer, head.byteOffset + at + 4, 34);
  const packed = view.getUint32(10, false);
  const digest = Buffer.from(head.subarray(at + 4 + 18, at + 4 + 34)).toString('hex');
  return {
    sampleRate: packed >>> 12,
    channelCount: ((packed >>> 9) & 7) + 1,
    bits: ((packed >>> 4) & 31) + 1,
    frames: (packed & 15) * 4294967296 + view.getUint32(14, false),
    md5: /^0+$/.test(digest) ? null : digest,
  };
}

/** Integer samples as bytes, left-justified in their container as in WAV. */
function encodingOf(bits: number): { encoding: SampleEncoding; width: number } {
  if (bits <= 8) return { encoding: 'u8', width: 1 };
  if (bits <= 16) return { encoding: 's16', width: 2 };
  return { encoding: 's24', width: 3 };
}

/**
 * Decodes FLAC exactly up to 24 bits, and verifies it: the MD5 of the samples is compared with the file's. The decoder
 * returns floats scaled by the largest positive integer, which is undone.
 */
export async function decodeFlac(file: SourceFile, sink: PcmSink): Promise<Decoded> {
  const info = readStreamInfo(file.head(id3Length(file.head(10)) + 42));
  requirePlausible(info.sampleRate, info.channelCount);
  if (info.bits > 24) {
    throw new UndercroftError(
      'unsupported-audio',
      `The FLAC file has samples of ${info.bits} bits; up to 24 can be read. Save it as 24-bit FLAC or 32-bit WAV.`,
    );
  }
  const { encoding, width } = encodingOf(info.bits);
  const format: PcmFormat = {
    encoding,
    sampleRate: info.sampleRate,
    channelCount: info.channelCount,
    validBits: info.bits,
  };
  sink.begin(format);
  const md5 = createHash('md5');
  const decoder = new FLACDecoder();
  let frames = 0;
  let errors = 0;
  const broken: string[] = [];
  const take = (channels: readonly Float32Array[]) => {
    if (channels.length !== info.channelCount) {
      errors++;
      return;
    }
    const integers = toIntegers(channels, info.bits);
    frames += (channels[0] as Float32Array).length;
    const bytes = packIntegers(integers, Math.ceil(info.bits / 8), 0, false);
    md5.update(bytes);
    const same = info.bits === width * 8 && encoding !== 'u8';
    sink.take(same ? bytes : packIntegers(integers, width, width * 8 - info.bits, encoding === 'u8'));
  };
  try {
    await decoder.ready;
    const add = (part: { channelData: Float32Array[]; samplesDecoded: number; errors: readonly unknown[] }) => {
      errors += part.errors.length;
      if (part.samplesDecoded > 0) take(part.channelData);
    };
    try {
      for await (const piece of file.pieces()) add(await quietly(() => decoder.decode(piece)));
      add(await quietly(() => decoder.flush()));
    } catch (error) {
      if (!isDecoderFault(error) || frames === 0) throw error;
      broken.push(brokenOff(frames / info.sampleRate));
    }
  } finally {
    freed(decoder);
  }
  const warnings = [...broken, ...damagedFrames(errors)];
  if (info.frames > 0 && frames < info.frames) {
    warnings.push(
      `The header promises ${info.frames} frames, ${frames} could be decoded: the file was cut short or is damaged. All there is was kept.`,
    );
  } else if (info.md5 !== null && md5.digest('hex') !== info.md5)
    warnings.push('The samples are not those the file was made of: its own checksum (MD5) does not match.');
  return { kind: 'flac', delay: null, warnings };
}

function toIntegers(channels: readonly Float32Array[], bits: number): Int32Array {
  const scale = 2 ** (bits - 1) - 1;
  const frames = (channels[0] as Float32Array).length;
  const out = new Int32Array(frames * channels.length);
  for (const [c, channel] of channels.entries()) {
    for (let i = 0; i < frames; i++) out[i * channels.length + c] = Math.round((channel[i] as number) * scale);
  }
  return out;
}

/** Little-endian bytes of integers, shifted left; bytes unsigned for 8-bit WAV. */
function packIntegers(integers: Int32Array, width: number, shift: number, unsigned: boolean): Uint8Array {
  const out = new Uint8Array(integers.length * width);
  const offset = unsigned ? 128 : 0;
  for (let i = 0, at = 0; i < integers.length; i++) {
    const value = ((integers[i] as number) << shift) + offset;
    for (let k = 0; k < width; k++) out[at++] = value >> (8 * k);
  }
  return out;
}
