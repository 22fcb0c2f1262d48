import type { Audio } from '../signal/audio';
import { maskingOf, struckSpectrum } from './masking';

const RATE = 48_000;
const tone = (hz: number, level: number, at = 0): Audio => ({
  sampleRate: RATE,
  channels: [
    Float32Array.from({ length: 20_000 }, (_, i) =>
      i < at ? 0 : level * Math.exp(-(i - at) / 4000) * Math.sin((2 * Math.PI * hz * (i - at)) / RATE),
    ),
  ],
});

test('a louder sound of the same pitch covers a softer one there, whenever each is struck in its file', () => {
  const own = struckSpectrum(tone(60, 0.1), 1);
  const loud = struckSpectrum(tone(60, 0.8, 3000), 1);
  const high = struckSpectrum(tone(3000, 0.8), 1);
  const { by, of } = maskingOf(own, [high, loud]);
  expect(by[0]?.other).toBe(1);
  expect(by[0]?.fromHz).toBeLessThan(60);
  expect(by[0]?.toHz).toBeGreaterThan(60);
  // 0.8 over 0.1 is 18 dB.
  expect(Math.abs((by[0]?.db ?? 0) - 18.06)).toBeLessThan(1);
  expect(by.filter(({ other }) => other === 0)).toEqual([]);
  expect(of).toEqual([]);
  expect(maskingOf(loud, [own]).of[0]?.other).toBe(0);
});

test('levels count, and silence covers nothing', () => {
  const [a, b] = [struckSpectrum(tone(100, 0.5), 1), struckSpectrum(tone(100, 0.5), 4)];
  expect(maskingOf(a, [b]).by).toHaveLength(1);
  expect(maskingOf(a, [a]).by).toEqual([]);
  const silent = struckSpectrum({ sampleRate: RATE, channels: [new Float32Array(100)] }, 1);
  expect(maskingOf(a, [silent]).by).toEqual([]);
});
