import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { WaveFile } from 'wavefile';
import { BYTES_PER_SAMPLE, encodeFrames, type SampleEncoding } from '../../src/core/format/pcm';
import { readWav, writeWav } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { remove, scratch } from '../harness';

/**
 * WAV files against outside programs: libsndfile (sndfile-info, sndfile-convert), SoX, FFmpeg and the wavefile package.
 * What we write they must read, sample for sample; what they write we must.
 */
const folder = scratch();
afterAll(() => remove(folder));
const ENCODINGS: readonly SampleEncoding[] = ['u8', 's16', 's24', 's32', 'f32', 'f64'];
const FFMPEG: Readonly<Record<SampleEncoding, string>> = {
  u8: 'u8',
  s16: 's16le',
  s24: 's24le',
  s32: 's32le',
  f32: 'f32le',
  f64: 'f64le',
};

function noise(channelCount: number, frames: number, seed: number): Float32Array[] {
  const random = seededRandom(seed);
  return Array.from({ length: channelCount }, () => Float32Array.from({ length: frames }, () => random() * 1.9 - 0.95));
}

/** The samples of a file as FFmpeg decodes them, in the encoding they are stored in. */
function ffmpegSamples(path: string, encoding: SampleEncoding): Buffer {
  const codec = FFMPEG[encoding];
  return execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', codec, '-c:a', `pcm_${codec}`, '-'], {
    maxBuffer: 1 << 28,
  });
}

describe('what we write', () => {
  const cases = ENCODINGS.flatMap((encoding) =>
    (
      [
        [1, 8000],
        [2, 44100],
        [6, 48000],
        [8, 192000],
      ] as const
    ).map(([channels, rate]) => [encoding, channels, rate] as const),
  );
  test.each(cases)(
    '%s, %i channels, %i Hz: libsndfile agrees on the header, FFmpeg on every sample',
    (encoding, channels, rate) => {
      const path = join(folder, `ours-${encoding}-${channels}.wav`);
      const audio = { sampleRate: rate, channels: noise(channels, 1237, channels) };
      writeFileSync(path, writeWav(audio, encoding));
      const info = execFileSync('sndfile-info', [path], { encoding: 'utf8' });
      expect(Number(/Sample Rate : (\d+)/.exec(info)?.[1])).toBe(rate);
      expect(Number(/Frames {6}: (\d+)/.exec(info)?.[1])).toBe(1237);
      expect(Number(/Channels {4}: (\d+)/.exec(info)?.[1])).toBe(channels);
      expect(ffmpegSamples(path, encoding).equals(Buffer.from(encodeFrames(encoding, audio.channels)))).toBe(true);
    },
  );

  test.each(ENCODINGS)('%s: SoX and the wavefile package tell depth and length', (encoding) => {
    const path = join(folder, `ours-${encoding}-2.wav`);
    const soxi = (flag: string) => execFileSync('soxi', [flag, path], { encoding: 'utf8' }).trim();
    // SoX counts a float's precision by its mantissa: 25 and 54 bits.
    const precision = { u8: '8', s16: '16', s24: '24', s32: '32', f32: '25', f64: '54' }[encoding];
    expect([soxi('-r'), soxi('-c'), soxi('-s'), soxi('-p')]).toEqual(['44100', '2', '1237', precision]);
    const other = new WaveFile(readFileSync(path));
    expect(other.fmt).toMatchObject({
      numChannels: 2,
      sampleRate: 44100,
      bitsPerSample: BYTES_PER_SAMPLE[encoding] * 8,
    });
  });
});

describe('what others write', () => {
  const source = join(folder, 'source.wav');
  beforeAll(() => writeFileSync(source, writeWav({ sampleRate: 44100, channels: noise(2, 5001, 99) }, 'f64')));

  const check = (path: string, encoding: SampleEncoding) => {
    const { audio, report } = readWav(readFileSync(path));
    expect(report.warnings).toEqual([]);
    expect(report.format.encoding).toBe(encoding);
    const theirs = ffmpegSamples(path, encoding);
    expect(Buffer.from(encodeFrames(encoding, audio.channels)).equals(theirs)).toBe(true);
    return report;
  };

  test.each([
    ['pcmu8', 'u8'],
    ['pcm16', 's16'],
    ['pcm24', 's24'],
    ['float32', 'f32'],
  ] as const)('libsndfile, %s', (kind, encoding) => {
    const path = join(folder, `sndfile-${kind}.wav`);
    execFileSync('sndfile-convert', [`-${kind}`, source, path], { stdio: 'ignore' });
    expect(check(path, encoding).frames).toBe(5001);
  });

  test.each([
    ['8', 'unsigned', 'u8'],
    ['16', 'signed', 's16'],
    ['24', 'signed', 's24'],
  ] as const)('SoX, %s bits, 6 channels (WAVE_FORMAT_EXTENSIBLE)', (bits, kind, encoding) => {
    const path = join(folder, `sox-${bits}.wav`);
    execFileSync('sox', [
      '-R',
      '-r',
      '96000',
      '-n',
      '-c',
      '6',
      '-b',
      bits,
      '-e',
      kind,
      path,
      'synth',
      '0.05',
      'whitenoise',
      'vol',
      '0.5',
    ]);
    expect(check(path, encoding).format).toMatchObject({ channelCount: 6, sampleRate: 96000 });
  });

  test.each(ENCODINGS.filter((e) => e !== 's32' && e !== 'f64'))(
    'FFmpeg, RF64 with %s and a LIST chunk',
    (encoding) => {
      const path = join(folder, `rf64-${encoding}.wav`);
      execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-i',
        source,
        '-c:a',
        `pcm_${FFMPEG[encoding]}`,
        '-rf64',
        'always',
        '-metadata',
        'title=a title',
        path,
      ]);
      expect(readFileSync(path).toString('latin1', 0, 4)).toBe('RF64');
      expect(check(path, encoding).frames).toBe(5001);
    },
  );

  test('FFmpeg to a pipe leaves the length open; all of it is read', () => {
    const piped = execFileSync('ffmpeg', ['-v', 'error', '-i', source, '-c:a', 'pcm_s16le', '-f', 'wav', '-'], {
      maxBuffer: 1 << 26,
    });
    const { report } = readWav(piped);
    expect(report.frames).toBe(5001);
    expect(report.warnings.join()).toMatch(/leaves the length of the sound open/);
  });

  test('32 and 64 bits are rounded to the nearest float, as Math.fround does', () => {
    for (const encoding of ['s32', 'f64'] as const) {
      const path = join(folder, `wide-${encoding}.wav`);
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, '-c:a', `pcm_${FFMPEG[encoding]}`, path]);
      const bytes = ffmpegSamples(path, encoding);
      const left = readWav(readFileSync(path)).audio.channels[0] as Float32Array;
      for (let i = 0; i < left.length; i += 7) {
        const exact = encoding === 's32' ? bytes.readInt32LE(i * 8) / 2 ** 31 : bytes.readDoubleLE(i * 16);
        expect(left[i]).toBe(Math.fround(exact));
      }
    }
  });
});
