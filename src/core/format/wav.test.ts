import fc from 'fast-check';
import { decodeFrames, encodeFrames, type SampleEncoding } from './pcm';
import { readWav, wavHeader, writeWav } from './wav';
import { WavStream } from './wav-stream';

const ENCODINGS: SampleEncoding[] = ['u8', 's16', 's24', 's32', 'f32', 'f64'];
const BYTES = { u8: 1, s16: 2, s24: 3, s32: 4, f32: 4, f64: 8 };

/** Bytes of a chunk: id, size, body, pad. */
function chunk(id: string, body: Uint8Array, size = body.length): Uint8Array {
  const out = new Uint8Array(8 + body.length + (body.length % 2));
  for (let i = 0; i < 4; i++) out[i] = id.charCodeAt(i);
  new DataView(out.buffer).setUint32(4, size, true);
  out.set(body, 8);
  return out;
}

function file(chunks: Uint8Array[], id = 'RIFF'): Uint8Array {
  const size = chunks.reduce((s, c) => s + c.length, 4);
  const head = new Uint8Array(12);
  for (let i = 0; i < 4; i++) head[i] = id.charCodeAt(i);
  for (let i = 0; i < 4; i++) head[8 + i] = 'WAVE'.charCodeAt(i);
  new DataView(head.buffer).setUint32(4, size, true);
  return Uint8Array.from([...head, ...chunks.flatMap((c) => [...c])]);
}

function fmt(
  given: { tag?: number; channels?: number; rate?: number; bits?: number; align?: number } = {},
): Uint8Array {
  const { tag = 1, channels = 1, rate = 44100, bits = 16 } = given;
  const { align = (channels * bits) / 8 } = given;
  const body = new Uint8Array(16);
  const view = new DataView(body.buffer);
  view.setUint16(0, tag, true);
  view.setUint16(2, channels, true);
  view.setUint32(4, rate, true);
  view.setUint32(8, rate * align, true);
  view.setUint16(12, align, true);
  view.setUint16(14, bits, true);
  return chunk('fmt ', body);
}

const samples16 = (...values: number[]) => new Uint8Array(Int16Array.from(values).buffer);
const ints = (wav: ReturnType<typeof readWav>) =>
  [...(wav.audio.channels[0] as Float32Array)].map((x) => Math.round(x * 32768));

describe('samples', () => {
  test.each(['u8', 's16', 's24'] as const)('%s comes back bit for bit', (encoding) => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 0, maxLength: 96 }), fc.integer({ min: 1, max: 8 }), (bytes, channels) => {
        const whole = bytes.slice(0, bytes.length - (bytes.length % (channels * BYTES[encoding])));
        expect(encodeFrames(encoding, decodeFrames(encoding, whole, channels))).toEqual(whole);
      }),
      { seed: 7 },
    );
  });

  test('24-bit extremes are exact', () => {
    const bytes = Uint8Array.of(0xff, 0xff, 0x7f, 0, 0, 0x80, 0xff, 0xff, 0xff, 1, 0, 0);
    const [channel] = decodeFrames('s24', bytes, 1);
    expect([...(channel as Float32Array)]).toEqual([8388607 / 8388608, -1, -1 / 8388608, 1 / 8388608]);
  });

  test('values beyond full scale are clipped, not wrapped', () => {
    expect([...encodeFrames('s16', [Float32Array.of(2, -2)])]).toEqual([0xff, 0x7f, 0x00, 0x80]);
  });

  test('NaN and infinities become silence and are counted', () => {
    const bytes = new Uint8Array(Float32Array.of(0.5, Number.NaN, Number.POSITIVE_INFINITY, -0.25).buffer);
    const report = { notFinite: 0 };
    expect([...(decodeFrames('f32', bytes, 1, report)[0] as Float32Array)]).toEqual([0.5, 0, 0, -0.25]);
    expect(report.notFinite).toBe(2);
  });
});

describe('whole files', () => {
  test('what is written is read back, for every encoding, channel count and odd length', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ENCODINGS),
        fc.integer({ min: 1, max: 8 }),
        fc.constantFrom(8000, 44100, 48000, 96000, 192000),
        fc.integer({ min: 1, max: 17 }),
        (encoding, channelCount, sampleRate, frames) => {
          const channels = Array.from({ length: channelCount }, (_, c) =>
            Float32Array.from({ length: frames }, (_, i) => ((c * 31 + i * 7) % 64) / 64 - 0.5),
          );
          const { audio, report } = readWav(writeWav({ sampleRate, channels }, encoding));
          expect(audio).toEqual({ sampleRate, channels });
          expect(report.format.encoding).toBe(encoding);
          expect(report.warnings).toEqual([]);
        },
      ),
      { seed: 11 },
    );
  });

  test('pieces of any size give the same samples', () => {
    const bytes = file([
      chunk('JUNK', new Uint8Array(33)),
      fmt(),
      chunk('LIST', new Uint8Array(5)),
      chunk('data', samples16(1, 2, 3, 4, 5)),
      chunk('cue ', new Uint8Array(28)),
    ]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1 }), (sizes) => {
        const got: number[] = [];
        const stream = new WavStream(
          () => {},
          (piece) => got.push(...piece),
        );
        for (let at = 0, i = 0; at < bytes.length; i++) {
          const size = sizes[i % sizes.length] as number;
          stream.push(bytes.subarray(at, at + size));
          at += size;
        }
        expect(stream.finish().frames).toBe(5);
        expect(got).toEqual([...samples16(1, 2, 3, 4, 5)]);
      }),
      { seed: 3 },
    );
  });

  test('an RF64 file takes its length from ds64', () => {
    const ds64 = new Uint8Array(28);
    new DataView(ds64.buffer).setUint32(8, 6, true);
    const { audio, report } = readWav(
      file(
        [chunk('ds64', ds64), fmt(), chunk('data', samples16(7, 8, 9), 0xffffffff), chunk('LIST', new Uint8Array(4))],
        'RF64',
      ),
    );
    expect(audio.channels[0]).toHaveLength(3);
    expect(report.warnings).toEqual([]);
  });

  test('a file of more than 4 GiB is headed as RF64 with its true sizes', () => {
    const frames = 3e9;
    const header = wavHeader({ encoding: 's16', sampleRate: 48000, channelCount: 2 }, frames);
    const view = new DataView(header.buffer);
    expect(String.fromCharCode(...header.subarray(0, 4))).toBe('RF64');
    expect(view.getUint32(28, true) + view.getUint32(32, true) * 2 ** 32).toBe(frames * 4);
    expect(view.getUint32(36, true) + view.getUint32(40, true) * 2 ** 32).toBe(frames);
  });

  test('WAVE_FORMAT_EXTENSIBLE with 20 valid bits in 24 is read by its container', () => {
    const body = new Uint8Array(40);
    const view = new DataView(body.buffer);
    const words: [number, number][] = [
      [0, 0xfffe],
      [2, 1],
      [12, 3],
      [14, 24],
      [16, 22],
      [18, 20],
      [24, 1],
    ];
    for (const [at, value] of words) view.setUint16(at, value, true);
    view.setUint32(4, 48000, true);
    body.set([0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71], 26);
    const { report } = readWav(file([chunk('fmt ', body), chunk('data', Uint8Array.of(0, 0, 0x40))]));
    expect(report.format).toMatchObject({ encoding: 's24', validBits: 20, sampleRate: 48000 });
  });
});

describe('headers that lie', () => {
  test('a file that was cut short gives what it has and says so', () => {
    const wav = readWav(file([fmt(), chunk('data', samples16(1, 2, 3), 2000)]));
    expect(ints(wav)).toEqual([1, 2, 3]);
    expect(wav.report.warnings[0]).toBe(
      'The header promises 1000 frames, the file holds 3: it was cut short. All there is was kept.',
    );
  });

  test.each([0, 0xffffffff])('a data length left open (%i) means to the end of the file', (size) => {
    const wav = readWav(file([fmt(), chunk('data', samples16(4, 5, 6, 7, 8), size)]));
    expect(ints(wav)).toEqual([4, 5, 6, 7, 8]);
    expect(wav.report.warnings[0]).toMatch(/leaves the length of the sound open/);
  });

  test('rubbish after the last chunk is passed over and told', () => {
    const wav = readWav(Uint8Array.from([...file([fmt(), chunk('data', samples16(1, 2))]), ...new Uint8Array(50)]));
    expect(ints(wav)).toEqual([1, 2]);
    expect(wav.report.warnings[0]).toMatch(/50 bytes after the last chunk/);
  });

  test('half a frame at the end is left out and told', () => {
    const wav = readWav(file([fmt({ channels: 2 }), chunk('data', samples16(1, 2, 3))]));
    expect(wav.report).toMatchObject({ frames: 1, warnings: [expect.stringMatching(/not a whole frame/)] });
  });
});

describe('what cannot be read says why', () => {
  const cases: [string, Uint8Array, string, RegExp][] = [
    ['an empty file', new Uint8Array(0), 'not-audio', /empty/],
    ['text', new TextEncoder().encode('hello, this is no sound at all'), 'not-audio', /not a WAV file/],
    ['a FLAC file', new TextEncoder().encode('fLaC and so on and on'), 'not-audio', /looks like a FLAC file/],
    ['three bytes', Uint8Array.of(82, 73, 70), 'not-audio', /not a WAV file/],
    [
      'A-law',
      file([fmt({ tag: 6, bits: 8 }), chunk('data', new Uint8Array(4))]),
      'unsupported-audio',
      /compressed \(A-law\)/,
    ],
    [
      'an unlisted format',
      file([fmt({ tag: 0x1234 }), chunk('data', new Uint8Array(4))]),
      'unsupported-audio',
      /0x1234/,
    ],
    [
      'no channels',
      file([fmt({ channels: 0, align: 2 }), chunk('data', new Uint8Array(4))]),
      'damaged-audio',
      /0 channels/,
    ],
    ['nine channels', file([fmt({ channels: 9 }), chunk('data', new Uint8Array(18))]), 'damaged-audio', /9 channels/],
    ['4 kHz', file([fmt({ rate: 4000 }), chunk('data', new Uint8Array(4))]), 'unsupported-audio', /4000 Hz/],
    ['no fmt chunk', file([chunk('data', new Uint8Array(4))]), 'damaged-audio', /before the fmt chunk/],
    ['no data chunk', file([fmt()]), 'damaged-audio', /no data chunk/],
    [
      'an empty data chunk',
      file([fmt(), chunk('data', new Uint8Array(0)), chunk('LIST', new Uint8Array(4))]),
      'damaged-audio',
      /no sound/,
    ],
    ['64-bit integers', file([fmt({ bits: 64 }), chunk('data', new Uint8Array(8))]), 'unsupported-audio', /64 bits/],
  ];
  test.each(cases)('%s', (_, bytes, code, message) => {
    expect(() => readWav(bytes)).toThrow(expect.objectContaining({ code, message: expect.stringMatching(message) }));
  });

  test('any file cut anywhere, with any byte changed, is read or refused with a reason: 2,000 seeded cases', () => {
    const good = file([
      fmt({ channels: 2 }),
      chunk('LIST', new Uint8Array(7)),
      chunk('data', samples16(...Array(40).keys())),
    ]);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: good.length }),
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 4 }),
        (length, changes) => {
          const bytes = good.slice();
          for (const [at, value] of changes) bytes[at] = value;
          try {
            expect(readWav(bytes.subarray(0, length)).report.frames).toBeGreaterThan(0);
          } catch (error) {
            expect((error as { code?: string }).code).toMatch(/^(not-audio|unsupported-audio|damaged-audio)$/);
          }
        },
      ),
      { numRuns: 2000, seed: 42 },
    );
  });
});
