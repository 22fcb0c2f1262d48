import { levelledWave } from './levelled-wave';

const flat = {
  sample: () => 0.5,
  columns(_start: number, _frames: number, width: number, out: Float32Array) {
    for (let x = 0; x < width; x++) {
      out[2 * x] = -0.5;
      out[2 * x + 1] = 0.5;
    }
    return true;
  },
};

test('a part has its own level, in samples and in columns; the rest stays', () => {
  const wave = levelledWave(flat, [{ startFrame: 100, endFrame: 200, gain: 0.5 }]);
  expect([99, 100, 199, 200].map((f) => wave.sample(f))).toEqual([0.5, 0.25, 0.25, 0.5]);
  const out = new Float32Array(8);
  wave.columns(50, 50, 4, out);
  expect([...out]).toEqual([-0.5, 0.5, -0.25, 0.25, -0.25, 0.25, -0.5, 0.5]);
});

test('overlapping parts: the later one counts for a sample; without parts it is the wave itself', () => {
  const wave = levelledWave(flat, [
    { startFrame: 0, endFrame: 10, gain: 2 },
    { startFrame: 5, endFrame: 10, gain: 4 },
  ]);
  expect(wave.sample(6)).toBe(2);
  expect(levelledWave(flat, [])).toBe(flat);
});
