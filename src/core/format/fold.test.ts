import { peakOf, toMono } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { foldFrames } from './fold';
import { bytesPerFrame, decodeFrames, type SampleEncoding } from './pcm';

it.each<[SampleEncoding, number, number, number]>([
  ['s16', 2, 1001, 0],
  ['s16', 2, 1001, 1],
  ['s16', 1, 500, 0],
  ['s16', 6, 333, 0],
  ['s24', 2, 777, 0],
  ['f32', 2, 64, 0],
])(
  '%s in %i channels of %i frames, %i bytes off their place, is what decoding and folding give',
  (encoding, channelCount, frames, off) => {
    const random = seededRandom(3);
    const format = { encoding, channelCount, sampleRate: 44100, validBits: 16 };
    const length = frames * bytesPerFrame(format);
    const bytes = new Uint8Array(off + length + 1).subarray(off, off + length);
    if (encoding === 'f32')
      bytes.set(new Uint8Array(Float32Array.from({ length: frames * channelCount }, () => random() - 0.5).buffer));
    else for (let i = 0; i < length; i++) bytes[i] = Math.floor(random() * 256);
    // Full scale to either side, where sums are largest.
    if (encoding === 's16') bytes.set([0x00, 0x80, 0x00, 0x80, 0xff, 0x7f, 0xff, 0x7f]);
    const channels = decodeFrames(encoding, bytes, channelCount);
    const out = new Float32Array(frames + 20).fill(9);
    expect(foldFrames(format, bytes, out, 10)).toBe(peakOf(channels));
    expect(out.subarray(10, 10 + frames)).toEqual(toMono({ sampleRate: 44100, channels }));
    expect([...out.subarray(0, 10), ...out.subarray(10 + frames)].every((x) => x === 9)).toBe(true);
  },
);
