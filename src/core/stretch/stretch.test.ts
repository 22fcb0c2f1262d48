import { Fft } from '../kernel/fft';
import { seededRandom } from '../signal/random';
import { stretched } from './stretch';

const RATE = 48_000;

test('the inverse transform gives the frame back', () => {
  const random = seededRandom(3);
  const frame = Float32Array.from({ length: 2048 }, () => random() - 0.5);
  const fft = new Fft(2048);
  const { re, im } = fft.forward(frame);
  const back = fft.inverse(re, im);
  expect(Math.max(...back.map((x, i) => Math.abs(x - (frame[i] as number))))).toBeLessThan(1e-6);
});

/** A struck drum: a noise burst, then a decaying tone. */
function drum(hz: number, frames = 24_000) {
  const random = seededRandom(11);
  return Float32Array.from({ length: frames }, (_, i) => {
    const t = i / RATE;
    return 0.6 * Math.exp(-t / 0.15) * Math.sin(2 * Math.PI * hz * t) + 0.3 * Math.exp(-t / 0.004) * (2 * random() - 1);
  });
}

test.each([0.5, 1.5, 3])(
  'stretched by %d: the length is exact, the first 10 ms are copied bit for bit, no echo before them',
  (factor) => {
    const source = { sampleRate: RATE, channels: [drum(180)] };
    const from = 0.02 * RATE;
    const out = stretched(source, from, factor).channels[0] as Float32Array;
    expect(out).toHaveLength(from + Math.round((24_000 - from) * factor));
    expect(out.subarray(0, 0.01 * RATE)).toEqual(source.channels[0]?.subarray(0, 0.01 * RATE));
  },
);

test('a decaying tone keeps its pitch, and its decay is as much slower', () => {
  const source = { sampleRate: RATE, channels: [drum(200)] };
  const out = stretched(source, 0.02 * RATE, 2).channels[0] as Float32Array;
  const crossings = (x: Float32Array, from: number, to: number) => {
    let count = 0;
    for (let i = from + 1; i < to; i++) if ((x[i - 1] as number) < 0 && (x[i] as number) >= 0) count++;
    return count;
  };
  expect(crossings(out, 6000, 30_000) / 0.5).toBeCloseTo(200, -0.5);
  const level = (x: Float32Array, at: number) =>
    10 * Math.log10(x.subarray(at, at + 2400).reduce((sum, v) => sum + v * v, 0) / 2400);
  // exp(-t / 0.15) falls by 57.9 dB a second; stretched by two, half as fast.
  const fall = (level(out, 8000) - level(out, 32_000)) / 0.5;
  expect(Math.abs(fall - 28.95)).toBeLessThan(1.5);
});

test('a factor of one gives the sound itself', () => {
  const source = { sampleRate: RATE, channels: [drum(90)] };
  expect(stretched(source, 500, 1).channels[0]).toEqual(source.channels[0]);
});
