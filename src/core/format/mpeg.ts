/** Contents of an MPEG audio frame's header. */
export interface MpegHeader {
  readonly sampleRate: number;
  readonly channelCount: 1 | 2;
  readonly layer: 1 | 2 | 3;
  /** Bytes of the frame, header included; 0 for a free bit rate, where it is unknown. */
  readonly bytes: number;
  readonly frames: number;
  /** Bytes of side information after the header, layer III only. */
  readonly sideBytes: number;
}

const RATES = [44100, 48000, 32000] as const;
const BITRATES: Readonly<Record<string, readonly number[]>> = {
  '1-1': [32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448],
  '1-2': [32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384],
  '1-3': [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  '2-1': [32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256],
  '2-2': [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};

/** Reads the header of an MPEG-1, -2 or -2.5 audio frame at `at` (ISO/IEC 11172-3, 2.4.1.3; 13818-3), or null. */
export function mpegHeader(bytes: Uint8Array, at: number): MpegHeader | null {
  if (at + 4 > bytes.length) return null;
  const [a, b, c, d] = bytes.subarray(at, at + 4) as unknown as [number, number, number, number];
  if (a !== 0xff || (b & 0xe0) !== 0xe0) return null;
  const version = (b >> 3) & 3; // 0: 2.5, 2: 2, 3: 1
  const layerBits = (b >> 1) & 3;
  const rateIndex = (c >> 2) & 3;
  const bitIndex = c >> 4;
  if (version === 1 || layerBits === 0 || rateIndex === 3 || bitIndex === 15) return null;
  const layer = (4 - layerBits) as 1 | 2 | 3;
  const low = version !== 3;
  const sampleRate = (RATES[rateIndex] as number) / (version === 3 ? 1 : version === 2 ? 2 : 4);
  const channelCount = d >> 6 === 3 ? 1 : 2;
  const table = BITRATES[low ? `2-${Math.min(layer, 2)}` : `1-${layer}`] as readonly number[];
  const kbps = bitIndex === 0 ? 0 : (table[bitIndex - 1] as number);
  const frames = layer === 1 ? 384 : layer === 3 && low ? 576 : 1152;
  const padding = (c >> 1) & 1;
  const slot = layer === 1 ? 4 : 1;
  const size = Math.floor((frames / 8 / slot) * ((kbps * 1000) / sampleRate)) + padding;
  const sideBytes = low ? (channelCount === 1 ? 9 : 17) : channelCount === 1 ? 17 : 32;
  return { sampleRate, channelCount, layer, bytes: kbps === 0 ? 0 : size * slot, frames, sideBytes };
}

export interface MpegStart {
  /** Byte at which the first frame begins. */
  readonly at: number;
  readonly header: MpegHeader;
  /** Frames the encoder put before and after the sound, where a delay tag tells. */
  readonly delay: { readonly startFrames: number; readonly endFrames: number } | null;
}

/**
 * Finds the first two consecutive frames within `bytes`, and the tag in the first with the encoder's delay: "Xing" or
 * "Info", then at byte 120 nine bytes that name the encoder and at 141 two 12-bit counts ("Mp3 Info Tag revision 1",
 * the LAME project). Null where there is no such pair: not MPEG audio. Frames of a free bit rate do not give the
 * position of the next one, so a single frame is accepted there; without `freeRate` none are.
 */
export function mpegStart(bytes: Uint8Array, { freeRate = true } = {}): MpegStart | null {
  for (let at = 0; at + 4 <= bytes.length; at++) {
    const header = mpegHeader(bytes, at);
    if (!header || (header.bytes === 0 && !freeRate)) continue;
    const next = header.bytes === 0 ? header : mpegHeader(bytes, at + header.bytes);
    if (!next || next.sampleRate !== header.sampleRate || next.layer !== header.layer) continue;
    return { at, header, delay: readDelay(bytes.subarray(at, at + header.bytes), header) };
  }
  return null;
}

function readDelay(frame: Uint8Array, header: MpegHeader): MpegStart['delay'] {
  const at = 4 + header.sideBytes;
  if (header.layer !== 3 || frame.length < at + 144) return null;
  const name = String.fromCharCode(...frame.subarray(at, at + 4));
  if (name !== 'Xing' && name !== 'Info') return null;
  const encoder = String.fromCharCode(...frame.subarray(at + 120, at + 124));
  if (!/^(LAME|Lavc|Lavf)/.test(encoder)) return null;
  const [a, b, c] = frame.subarray(at + 141, at + 144) as unknown as [number, number, number];
  return { startFrames: (a << 4) | (b >> 4), endFrames: ((b & 15) << 8) | c };
}
