import fc from 'fast-check';
import { joinBytes } from '../bytes';
import { readExtended } from './aiff-header';
import { AiffStream } from './aiff-stream';
import { decodeFrames, type PcmFormat } from './pcm';
import type { FileReport } from './wav-stream';

const ascii = (text: string) => new TextEncoder().encode(text);

function be(bytes: number, value: number): number[] {
  return Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** (bytes - 1 - i)) & 255);
}

function chunk(id: string, ...body: number[]): number[] {
  return [...ascii(id), ...be(4, body.length), ...body, ...(body.length % 2 ? [0] : [])];
}

/** 44,100 and 48,000 Hz as 80-bit extended floats, as Apple's specification prints them. */
const RATE: Readonly<Record<number, number[]>> = {
  44100: [0x40, 0x0e, 0xac, 0x44, 0, 0, 0, 0, 0, 0],
  48000: [0x40, 0x0e, 0xbb, 0x80, 0, 0, 0, 0, 0, 0],
};

interface Given {
  readonly channels?: number;
  readonly frames: number;
  readonly bits: number;
  readonly rate?: number;
  readonly compression?: string;
}

function comm({ channels = 1, frames, bits, rate = 44100, compression }: Given): number[] {
  const plain = [...be(2, channels), ...be(4, frames), ...be(2, bits), ...(RATE[rate] as number[])];
  return compression === undefined ? chunk('COMM', ...plain) : chunk('COMM', ...plain, ...ascii(compression), 0, 0);
}

function form(type: 'AIFF' | 'AIFC', ...chunks: number[][]): Uint8Array {
  const body = chunks.flat();
  return Uint8Array.from([...ascii('FORM'), ...be(4, body.length + 4), ...ascii(type), ...body]);
}

const ssnd = (bytes: readonly number[], offset = 0) =>
  chunk('SSND', ...be(4, offset), ...be(4, 0), ...Array.from({ length: offset }, () => 9), ...bytes);

function read(
  file: Uint8Array,
  pieceBytes = file.length,
): { bytes: Uint8Array; format: PcmFormat; report: FileReport } {
  const pieces: Uint8Array[] = [];
  let format: PcmFormat | null = null;
  const stream = new AiffStream(
    (f) => {
      format = f;
    },
    (bytes) => pieces.push(bytes.slice()),
  );
  for (let at = 0; at < file.length; at += pieceBytes) stream.push(file.subarray(at, at + pieceBytes));
  const report = stream.finish();
  return { bytes: joinBytes(pieces), format: format as unknown as PcmFormat, report };
}

const samples = (file: Uint8Array, scale: number) => {
  const { bytes, format } = read(file);
  const [channel] = decodeFrames(format.encoding, bytes, format.channelCount);
  return [...(channel as Float32Array)].map((x) => x * scale);
};

describe('samples are the numbers of the file', () => {
  test('16 bits, big-endian', () => {
    const file = form('AIFF', comm({ frames: 3, bits: 16 }), ssnd([0x7f, 0xff, 0x80, 0x00, 0x00, 0x01]));
    expect(samples(file, 32768)).toEqual([32767, -32768, 1]);
  });
  test('24 bits, two channels', () => {
    const file = form(
      'AIFF',
      comm({ frames: 1, bits: 24, channels: 2, rate: 48000 }),
      ssnd([0x7f, 0xff, 0xff, 0x80, 0, 0]),
    );
    const { format, bytes, report } = read(file);
    expect(format).toEqual({ encoding: 's24', sampleRate: 48000, channelCount: 2, validBits: 24 });
    expect([...bytes]).toEqual([0xff, 0xff, 0x7f, 0, 0, 0x80]);
    expect(report.frames).toBe(1);
  });
  test('8 bits are signed', () => {
    expect(samples(form('AIFF', comm({ frames: 3, bits: 8 }), ssnd([0x7f, 0x80, 0])), 128)).toEqual([127, -128, 0]);
  });
  test('20 bits lie in 24', () => {
    const { format } = read(form('AIFF', comm({ frames: 1, bits: 20 }), ssnd([0x7f, 0xff, 0xf0])));
    expect(format).toMatchObject({ encoding: 's24', validBits: 20 });
  });
  test('sowt is little-endian, and fl32 floats', () => {
    const sowt = form('AIFC', comm({ frames: 2, bits: 16, compression: 'sowt' }), ssnd([0x01, 0x00, 0x00, 0x80]));
    expect(samples(sowt, 32768)).toEqual([1, -32768]);
    const float = form('AIFC', comm({ frames: 1, bits: 32, compression: 'fl32' }), ssnd([0x3f, 0x00, 0, 0]));
    expect(samples(float, 1)).toEqual([0.5]);
  });
  test('an offset before the samples is passed over', () => {
    expect(samples(form('AIFF', comm({ frames: 1, bits: 16 }), ssnd([0x40, 0], 6)), 32768)).toEqual([16384]);
  });

  test('pieces of any size give the same', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 6, maxLength: 120 }),
        fc.integer({ min: 1, max: 40 }),
        fc.constantFrom(16, 24),
        (body, piece, bits) => {
          const width = bits / 8;
          const whole = [...body.subarray(0, body.length - (body.length % width))];
          const file = form('AIFF', comm({ frames: whole.length / width, bits }), ssnd(whole));
          expect(read(file, piece).bytes).toEqual(read(file).bytes);
        },
      ),
      { seed: 11 },
    );
  });
});

describe('what the file says', () => {
  test('names, marks, root note and loop', () => {
    const pstring = (text: string) => [text.length, ...ascii(text), ...(text.length % 2 ? [] : [0])];
    const marks = chunk(
      'MARK',
      ...be(2, 2),
      ...[...be(2, 1), ...be(4, 10), ...pstring('in')],
      ...[...be(2, 2), ...be(4, 30), ...pstring('out')],
    );
    const instrument = chunk(
      'INST',
      57,
      20,
      0,
      127,
      1,
      127,
      0,
      0,
      ...be(2, 1),
      ...be(2, 1),
      ...be(2, 2),
      ...Array(6).fill(0),
    );
    const file = form(
      'AIFF',
      comm({ frames: 40, bits: 16 }),
      chunk('NAME', ...ascii('Sluice')),
      marks,
      instrument,
      ssnd(Array(80).fill(0)),
    );
    const { said } = read(file).report;
    expect(said).toMatchObject({
      tags: [{ name: 'title', text: 'Sluice' }],
      marks: [
        { frame: 10, length: 0, label: 'in' },
        { frame: 30, length: 0, label: 'out' },
      ],
      rootNote: 57,
      rootCents: 20,
      loops: [{ startFrame: 10, endFrame: 30 }],
    });
  });
});

describe('what cannot be read says why', () => {
  const cases: [string, Uint8Array, RegExp][] = [
    [
      'compressed',
      form('AIFC', comm({ frames: 1, bits: 16, compression: 'ima4' }), ssnd([0, 0])),
      /compressed \(IMA ADPCM\)/,
    ],
    ['no COMM chunk', form('AIFF', ssnd([0, 0])), /before the COMM chunk/],
    ['no sound', form('AIFF', comm({ frames: 0, bits: 16 })), /no sound/],
    ['no channels', form('AIFF', comm({ frames: 1, bits: 16, channels: 0 }), ssnd([0, 0])), /0 channels/],
    ['a short COMM chunk', form('AIFF', chunk('COMM', 0, 1)), /at least 18/],
    ['nothing', new Uint8Array(0), /empty/],
  ];
  test.each(cases)('%s', (_, file, message) => expect(() => read(file)).toThrow(message));

  test('a file cut short is kept as far as it goes, and that is said', () => {
    const file = form('AIFF', comm({ frames: 100, bits: 16 }), ssnd(Array(200).fill(1)));
    const { report } = read(file.subarray(0, file.length - 61));
    expect(report.frames).toBe(69);
    expect(report.warnings.join(' ')).toMatch(/promises 100 frames, the file holds 69.*not a whole frame/);
  });
});

test('extended floats are read as IEEE 754 has them', () => {
  const view = (bytes: number[]) => new DataView(Uint8Array.from(bytes).buffer);
  expect(readExtended(view(RATE[44100] as number[]), 0)).toBe(44100);
  expect(readExtended(view([0xbf, 0xff, 0x80, 0, 0, 0, 0, 0, 0, 0]), 0)).toBe(-1);
  expect(readExtended(view([0, 0, 0, 0, 0, 0, 0, 0, 0, 0]), 0)).toBe(0);
  expect(readExtended(view([0x7f, 0xff, 0, 0, 0, 0, 0, 0, 0, 0]), 0)).toBeNaN();
});
