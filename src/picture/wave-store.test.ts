import { MOST_TILES, type RecordingView, TILE_PAIRS } from '@/contract/views';
import { PIECE_FRAMES, WaveStore } from './wave-store';

const recording = {
  id: 'r',
  encoding: 's16',
  channelCount: 1,
  sampleRate: 44100,
  frames: 3 * PIECE_FRAMES,
} as RecordingView;
const settled = () => new Promise((resolve) => setTimeout(resolve, 0));

/** Answers with as many 16-bit numbers, all `value`; null for an answer that fails. */
const answers: (number | null)[] = [];
const asked: string[] = [];
beforeEach(() => {
  asked.length = answers.length = 0;
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    const value = answers.shift() ?? null;
    if (value === null) return { ok: false };
    const numbers = new Int16Array(2 * TILE_PAIRS * MOST_TILES).fill(value);
    return { ok: true, arrayBuffer: async () => numbers.buffer };
  }) as unknown as typeof fetch;
});

it('fetches neighbouring tiles at once and tells all who have asked, each once', async () => {
  answers.push(7);
  const store = new WaveStore(recording);
  const [one, other] = [jest.fn(), jest.fn()];
  expect(store.tile(0, MOST_TILES + 1, one)).toBeNull();
  expect(store.tile(0, MOST_TILES + 1, one)).toBeNull();
  expect(store.tile(0, MOST_TILES + 2, other)).toBeNull();
  await settled();
  expect([one, other].map((told) => told.mock.calls.length)).toEqual([1, 1]);
  expect(store.tile(0, MOST_TILES + 2, other)).toEqual(new Int16Array(2 * TILE_PAIRS).fill(7));
  expect(asked).toEqual([`/api/recordings/r/peaks?level=0&tile=${MOST_TILES}&count=${MOST_TILES}`]);
});

it('asks again for what could not be fetched', async () => {
  jest.useFakeTimers({ doNotFake: ['setImmediate'] });
  answers.push(null, 16384);
  const store = new WaveStore(recording);
  const told = jest.fn();
  expect(store.piece(1, told)).toBeNull();
  await jest.advanceTimersByTimeAsync(100);
  expect(store.piece(1, told)).toBeNull();
  await jest.advanceTimersByTimeAsync(2000);
  expect(told).toHaveBeenCalledTimes(1);
  expect(store.piece(1, told)).toBeNull();
  await jest.advanceTimersByTimeAsync(0);
  expect(told).toHaveBeenCalledTimes(2);
  expect(store.piece(1, told)?.[5]).toBe(0.5);
  expect(asked).toHaveLength(2);
  jest.useRealTimers();
});
