import { seededRandom } from '../signal/random';
import { TEXTURE_FIGURES, textureOf } from './texture';

const RATE = 44100;
const noise = (seconds: number, rate = RATE) => {
  const random = seededRandom(12);
  return Float32Array.from({ length: Math.round(seconds * rate) }, () => random() - 0.5);
};
const UNKNOWN = Math.fround(-1.2);

// Powers of noise are distributed exponentially: their geometric mean is exp(-0.5772), by Euler's constant, of their mean.
test.each([44100, 48000, 96000])('noise is as flat as theory has it, at %i Hz', (rate) => {
  const told = textureOf(noise(0.5, rate), rate);
  // Of the widest bands, that have some hundred bins.
  for (const band of [5, 6, 7, 13, 14, 15]) expect(Math.abs((told[band] as number) + 0.2507)).toBeLessThan(0.08);
});

test('one partial is far from flat, and many are between', () => {
  const tones = (count: number) =>
    Float32Array.from({ length: RATE / 2 }, (_, i) => {
      let sum = 0;
      for (let k = 0; k < count; k++) sum += Math.sin((2 * Math.PI * (8200 + (3600 * k) / count) * i) / RATE + k * k);
      return sum / count;
    });
  const [one, many] = [1, 150].map((count) => textureOf(tones(count), RATE)[14] as number);
  expect(one).toBeLessThan(-3);
  expect(many).toBeLessThan(-0.3);
  expect(many).toBeGreaterThan(-2);
});

test('a stretch that a sound is too short for, and bands over half the rate, are told to be unknown', () => {
  const short = textureOf(noise(0.05), RATE);
  expect(short).toHaveLength(TEXTURE_FIGURES);
  expect(short[6]).not.toBe(UNKNOWN);
  expect(short.subarray(8).every((x) => x === UNKNOWN)).toBe(true);
  expect(textureOf(new Float32Array(10), RATE).every((x) => x === UNKNOWN)).toBe(true);
  expect(textureOf(noise(0.5, 16000), 16000)[7]).toBe(UNKNOWN);
  expect(textureOf(new Float32Array(RATE), RATE).every(Number.isFinite)).toBe(true);
});
