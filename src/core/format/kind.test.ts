import { guessOther, id3Length, nameKind, recogniseKind } from './kind';
import { mpegHeader, mpegStart } from './mpeg';

const bytes = (text: string, ...more: number[]) =>
  Uint8Array.from([...text].map((c) => c.charCodeAt(0)).concat(more, Array(20).fill(0)));

test.each([
  ['wav', bytes('RIFF\0\0\0\0WAVE')],
  ['wav', bytes('RF64\0\0\0\0WAVE')],
  ['aiff', bytes('FORM\0\0\0\0AIFC')],
  ['flac', bytes('fLaC')],
  ['ogg', bytes('OggS')],
  ['mp4', bytes('\0\0\0\x20ftypM4A ')],
  ['mp3', bytes('', 0xff, 0xfb, 0x90, 0x44)],
  ['adts', bytes('', 0xff, 0xf1, 0x50, 0x80)],
  ['mp3', bytes('ID3\x04\0\0\0\0\0\x0a')],
])('%s is told by its content', (kind, head) => expect(recogniseKind(head)).toBe(kind));

test('what is none of these is not taken for one, and named where it is known', () => {
  expect(recogniseKind(bytes('RIFF\0\0\0\0AVI '))).toBeNull();
  expect(recogniseKind(bytes('', 0xff, 0xff, 0xff, 0xff))).toBeNull();
  expect(recogniseKind(new Uint8Array(0))).toBeNull();
  expect(guessOther(bytes('MThd'))).toBe('a MIDI file');
  expect(guessOther(bytes('RIFF\0\0\0\0AVI '))).toBe('a RIFF file of another kind (AVI)');
  expect(nameKind(bytes('fLaC'))).toBe('a FLAC file');
});

test('the length of an ID3 tag is told in bytes of seven bits, with its footer', () => {
  expect(id3Length(bytes('ID3', 4, 0, 0, 0, 0, 2, 1))).toBe(10 + 257);
  expect(id3Length(bytes('ID3', 4, 0, 0x10, 0, 0, 2, 1))).toBe(20 + 257);
  expect(id3Length(bytes('ID3', 4, 0, 0, 0, 0, 0x82, 1))).toBe(0);
  expect(id3Length(bytes('no tag'))).toBe(0);
});

describe('MPEG audio', () => {
  test('a header tells rate, channels and the length of its frame', () => {
    // MPEG-1 layer III, 128 kbit/s, 44.1 kHz, joint stereo: 417 bytes (ISO/IEC 11172-3).
    expect(mpegHeader(Uint8Array.of(0xff, 0xfb, 0x90, 0x64), 0)).toEqual({
      sampleRate: 44100,
      channelCount: 2,
      layer: 3,
      bytes: 417,
      frames: 1152,
      sideBytes: 32,
    });
    // MPEG-2 layer III, 64 kbit/s, 22.05 kHz, mono, padded.
    expect(mpegHeader(Uint8Array.of(0xff, 0xf3, 0x82, 0xc4), 0)).toMatchObject({
      sampleRate: 22050,
      channelCount: 1,
      bytes: 209,
    });
    expect(mpegHeader(Uint8Array.of(0xff, 0xfb, 0xf0, 0x64), 0)).toBeNull();
  });

  test('sound begins at two frames that follow each other; a delay tag in the first is read', () => {
    const file = new Uint8Array(1300);
    for (const at of [20, 437, 854]) file.set([0xff, 0xfb, 0x90, 0x64], at);
    expect(mpegStart(file)?.delay).toBeNull();
    const tag = 20 + 4 + 32;
    file.set(
      [...'Info'].map((c) => c.charCodeAt(0)),
      tag,
    );
    file.set(
      [...'LAME3.100'].map((c) => c.charCodeAt(0)),
      tag + 120,
    );
    // 576 and 1,000 frames in two counts of twelve bits.
    file.set([0x24, 0x03, 0xe8], tag + 141);
    expect(mpegStart(file)?.delay).toEqual({ startFrames: 576, endFrames: 1000 });
    expect(mpegStart(new Uint8Array(1000))).toBeNull();
  });
});
