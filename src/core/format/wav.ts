import { joinBytes } from '../bytes';
import { type Audio, frameCount } from '../signal/audio';
import {
  BYTES_PER_SAMPLE,
  type DecodeReport,
  decodeFrames,
  encodeFrames,
  type PcmFormat,
  type SampleEncoding,
} from './pcm';
import { type FileReport, WavStream } from './wav-stream';

/** Reads a whole WAV file in memory; see `WavStream` for what is accepted and thrown. */
export function readWav(file: Uint8Array): { audio: Audio; report: FileReport; notFinite: number } {
  const pieces: Uint8Array[] = [];
  const stream = new WavStream(
    () => {},
    (bytes) => pieces.push(bytes),
  );
  stream.push(file);
  const report = stream.finish();
  const { format } = report;
  const decoded: DecodeReport = { notFinite: 0 };
  const channels = decodeFrames(
    format.encoding,
    pieces.length === 1 ? (pieces[0] as Uint8Array) : joinBytes(pieces),
    format.channelCount,
    decoded,
  );
  return { audio: { sampleRate: format.sampleRate, channels }, report, notFinite: decoded.notFinite };
}

/**
 * The header that goes before `frames` frames of interleaved samples: RIFF with a 16-byte fmt chunk for PCM of one or
 * two channels, WAVE_FORMAT_EXTENSIBLE for more, RF64 (EBU Tech 3306) where the sizes pass 32 bits. Floats get the
 * extended fmt and the fact chunk that every format but PCM must have (Microsoft, "New multimedia data types", 1994).
 */
export function wavHeader(format: Omit<PcmFormat, 'validBits'>, frames: number): Uint8Array<ArrayBuffer> {
  const { encoding, sampleRate, channelCount } = format;
  const bits = BYTES_PER_SAMPLE[encoding] * 8;
  const float = encoding === 'f32' || encoding === 'f64';
  const extensible = channelCount > 2;
  const fmtSize = extensible ? 40 : float ? 18 : 16;
  const factSize = float ? 12 : 0;
  const dataSize = frames * channelCount * (bits / 8);
  const riffSize = 4 + 8 + fmtSize + factSize + 8 + dataSize + (dataSize % 2);
  const long = riffSize + 36 > 0xffffffff;
  const out = new Uint8Array(12 + (long ? 36 : 0) + 8 + fmtSize + factSize + 8);
  const view = new DataView(out.buffer);
  let at = 0;
  const text = (s: string) => {
    for (const char of s) out[at++] = char.charCodeAt(0);
  };
  const u16 = (n: number) => {
    view.setUint16(at, n, true);
    at += 2;
  };
  const u32 = (n: number) => {
    view.setUint32(at, n, true);
    at += 4;
  };
  const u64 = (n: number) => {
    u32(n % 4294967296);
    u32(Math.floor(n / 4294967296));
  };
  text(long ? 'RF64' : 'RIFF');
  u32(long ? 0xffffffff : riffSize);
  text('WAVE');
  if (long) {
    text('ds64');
    u32(28);
    u64(riffSize + 36);
    u64(dataSize);
    u64(frames);
    u32(0);
  }
  text('fmt ');
  u32(fmtSize);
  u16(extensible ? 0xfffe : float ? 3 : 1);
  u16(channelCount);
  u32(sampleRate);
  u32(sampleRate * channelCount * (bits / 8));
  u16(channelCount * (bits / 8));
  u16(bits);
  if (extensible) {
    u16(22);
    u16(bits);
    u32(0); // no speaker positions claimed
    u16(float ? 3 : 1);
    for (const byte of [0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71]) out[at++] = byte;
  }
  if (float) {
    if (!extensible) u16(0);
    text('fact');
    u32(4);
    u32(Math.min(frames, 0xffffffff));
  }
  text('data');
  u32(long ? 0xffffffff : dataSize);
  return out;
}

/** A whole WAV file of `audio` in the given encoding; clipped to full scale for integers, no dither. */
export function writeWav(audio: Audio, encoding: SampleEncoding): Uint8Array<ArrayBuffer> {
  const body = encodeFrames(encoding, audio.channels);
  const format = { encoding, sampleRate: audio.sampleRate, channelCount: audio.channels.length };
  const header = wavHeader(format, frameCount(audio));
  const out = new Uint8Array(header.length + body.length + (body.length % 2));
  out.set(header);
  out.set(body, header.length);
  return out;
}
