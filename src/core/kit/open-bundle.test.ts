import { strToU8, zipSync } from 'fflate';
import { padOf } from '../../../test/pads';
import { UndercroftError } from '../errors';
import { type Audio, frameCount } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { bundleFiles, finished } from './bundle';
import { openBundle, requireSamples } from './open-bundle';

const RATE = 44_100;
const audio: Audio = {
  sampleRate: RATE,
  channels: [Float32Array.from({ length: 2000 }, (_, i) => 0.5 * Math.sin(i / 9) * Math.exp(-i / 400))],
};
const sound = { sampleRate: RATE, channelCount: 1, frames: frameCount(audio), gain: 1, loudest: 0.5 };
const open = () => ({
  ...sound,
  read: (from: number, to: number) => ({ ...audio, channels: audio.channels.map((side) => side.subarray(from, to)) }),
});

function bundleOf(level: 0 | 6): Uint8Array {
  const pads = [0, 1, 2].map((position) => padOf(position, {}, [[0, 2000]]));
  const files = finished(bundleFiles({ name: 'Weir' }, pads, [], open));
  const entries = files.map(({ path, pieces }) => [path, Buffer.concat([...pieces()])] as const);
  return zipSync(Object.fromEntries(entries), { level });
}

test('what an export makes is read, packed or not, and packed again in a folder', () => {
  for (const level of [0, 6] as const) {
    const { file, samples } = openBundle(bundleOf(level));
    expect(file.pads.map(({ position, zones }) => [position, zones.length])).toEqual([
      [0, 1],
      [1, 1],
      [2, 1],
    ]);
    expect(requireSamples({ file, samples }).seconds).toBeCloseTo(6000 / RATE, 9);
  }
  const [description, sample] = [openBundle(bundleOf(0)).file, 'x'];
  const inFolder = zipSync({
    'Weir/Weir.json': strToU8(JSON.stringify({ ...description, pads: [] })),
    'Weir/readme.txt': strToU8(sample),
  });
  expect(openBundle(inFolder).file.name).toBe('Weir');
});

test('a thousand broken bundles are refused in words or read, without a crash or a hang', () => {
  const random = seededRandom(2026);
  const whole = [bundleOf(0), bundleOf(6)] as const;
  let refused = 0;
  const began = performance.now();
  for (let n = 0; n < 1000; n++) {
    const bytes = Uint8Array.from(whole[n % 2] as Uint8Array);
    const at = () => Math.floor(random() * bytes.length);
    let broken: Uint8Array = bytes;
    // Bytes turned, stretches overwritten and moved, ends cut off, and more of the directory and the description than elsewhere.
    const kind = n % 5;
    if (kind === 0) for (let i = 0; i < 1 + random() * 30; i++) bytes[at()] = Math.floor(random() * 256);
    else if (kind === 1) bytes.fill(Math.floor(random() * 256), at(), at());
    else if (kind === 2) bytes.copyWithin(at(), at(), at());
    else if (kind === 3) broken = bytes.subarray(0, at());
    else for (let i = 0; i < 20; i++) bytes[bytes.length - 1 - Math.floor(random() * 600)] = Math.floor(random() * 256);
    try {
      requireSamples(openBundle(broken));
    } catch (error) {
      expect(error).toBeInstanceOf(UndercroftError);
      expect((error as Error).message.length).toBeGreaterThan(20);
      refused++;
    }
  }
  expect(refused).toBeGreaterThan(400);
  expect(performance.now() - began).toBeLessThan(60_000);
});

test('a zip that would unpack to more than there is room for is refused before it is unpacked', () => {
  const zeros = new Uint8Array(40 * 1024 * 1024);
  const small = zipSync({ 'samples/a.wav': zeros }, { level: 9 });
  expect(small.length).toBeLessThan(200_000);
  // Its directory says that the file is of four gigabytes (PKWARE APPNOTE 4.3.12).
  const view = new DataView(small.buffer, small.byteOffset);
  const directory = Buffer.from(small.buffer, small.byteOffset).lastIndexOf('PK\u0001\u0002', undefined, 'latin1');
  view.setUint32(directory + 24, 0xf000_0000, true);
  expect(() => openBundle(small)).toThrow(/more than a gigabyte/);
  // One that says less than it is does not get more room than it said.
  view.setUint32(directory + 24, 10, true);
  expect(() => openBundle(small)).toThrow(/no description of a kit/);
});
