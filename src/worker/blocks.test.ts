import type { Audio } from '@/core/signal/audio';
import { BLOCK_FRAMES, Blocks } from './blocks';

const recording = { id: 'r', channelCount: 2, sampleRate: 48_000, frames: 20 * BLOCK_FRAMES + 777 };

/** Each sample tells its own frame and channel. */
function counted() {
  const asked: (readonly [number, number])[] = [];
  const fetchAudio = async (_: unknown, start: number, end: number): Promise<Audio> => {
    asked.push([start, end]);
    const channel = (sign: number) => Float32Array.from({ length: end - start }, (_, i) => sign * (start + i));
    return { sampleRate: 48_000, channels: [channel(1), channel(-1)] };
  };
  return { asked, fetchAudio };
}

test.each([
  [0, 1],
  [5, BLOCK_FRAMES],
  [BLOCK_FRAMES - 1, BLOCK_FRAMES + 1],
  [100, recording.frames],
  [recording.frames - 3, recording.frames + 50],
  [7, 7],
])('frames %d to %d are read as they are', async (start, end) => {
  const { fetchAudio } = counted();
  const { channels } = await new Blocks(1 << 26, fetchAudio).read(recording, start, end);
  const frames = Math.min(end, recording.frames) - start;
  expect(channels.map((c) => c.length)).toEqual([frames, frames]);
  expect([...(channels[1] as Float32Array)].every((x, i) => x === -(start + i))).toBe(true);
});

test('a trim outward fetches only the blocks it does not have, and a trim inward none', async () => {
  const { asked, fetchAudio } = counted();
  const blocks = new Blocks(1 << 26, fetchAudio);
  await blocks.read(recording, 3 * BLOCK_FRAMES + 10, 4 * BLOCK_FRAMES);
  expect(blocks.has(recording, 3 * BLOCK_FRAMES, 4 * BLOCK_FRAMES)).toBe(true);
  await blocks.read(recording, 3 * BLOCK_FRAMES + 500, 4 * BLOCK_FRAMES - 9);
  expect(asked).toHaveLength(1);
  await blocks.read(recording, 3 * BLOCK_FRAMES - 1, 4 * BLOCK_FRAMES);
  expect(asked.at(-1)).toEqual([2 * BLOCK_FRAMES, 3 * BLOCK_FRAMES]);
});

test('a stretch larger than the cache is read whole', async () => {
  const { fetchAudio } = counted();
  const { channels } = await new Blocks(BLOCK_FRAMES * 8 * 2, fetchAudio).read(recording, 0, recording.frames);
  expect(channels[0]?.at(-1)).toBe(recording.frames - 1);
});

test('a recording that has grown is read to its new end', async () => {
  const { fetchAudio } = counted();
  const blocks = new Blocks(1 << 26, fetchAudio);
  await blocks.read({ ...recording, frames: 100 }, 0, 100);
  const { channels } = await blocks.read({ ...recording, frames: 300 }, 0, 300);
  expect(channels[0]?.at(-1)).toBe(299);
});
