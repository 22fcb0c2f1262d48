import { PEAK_FRAMES, type RecordingView, TILE_PAIRS } from '@/contract/views';
import { WaveSource } from './wave-source';
import { PIECE_FRAMES } from './wave-store';

const FRAMES = 40 * PEAK_FRAMES;
const END = 10 * PEAK_FRAMES + 100;
/** Quiet, and loud from the end of the stretch on. */
const samples = Float32Array.from({ length: FRAMES }, (_, i) => (i >= END ? 1 : i % 2 === 0 ? 0.25 : -0.25));

jest.mock('./wave-store', () => ({
  ...jest.requireActual('./wave-store'),
  waveStoreOf: () => ({
    piece: (ordinal: number) => samples.subarray(ordinal * PIECE_FRAMES, (ordinal + 1) * PIECE_FRAMES),
    tile: (level: number, ordinal: number) => {
      const pair = PEAK_FRAMES * 4 ** level;
      return Int16Array.from({ length: 2 * TILE_PAIRS }, (_, i) => {
        const from = (ordinal * TILE_PAIRS + (i >> 1)) * pair;
        const some = samples.subarray(from, from + pair);
        return Math.round(32767 * (i % 2 === 0 ? Math.min(...some) : Math.max(...some)));
      });
    },
  }),
}));

const source = new WaveSource({ id: 'r', frames: FRAMES } as RecordingView, () => {});

test.each([4, 300])('a stretch at %i frames a column shows nothing of the sound that begins at its end', (step) => {
  const width = Math.ceil(END / step);
  const out = new Float32Array(2 * width);
  expect(source.columns(0, END / width, width, out, END)).toBe(true);
  expect(Math.max(...out)).toBeCloseTo(0.25, 3);
  // All but the last column, of which a part cannot be told from what follows, is there.
  for (let x = 0; x < width - 1; x++) expect(out[2 * x + 1]).toBeCloseTo(0.25, 3);
  // Without an end what follows is part of the picture.
  source.columns(0, (END + 2 * step) / width, width, out);
  expect(Math.max(...out)).toBe(1);
});
