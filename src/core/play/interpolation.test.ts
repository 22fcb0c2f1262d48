import fc from 'fast-check';
import { seededRandom } from '../signal/random';
import { kaiser } from '../signal/window';
import { CHUNK, samplesOf, threadInterpolation } from './interpolation';

const FRAMES = 401;
const random = seededRandom(28);
/** Two channels of noise, one float apart from being a whole number of pairs. */
const floats = Float32Array.from({ length: 2 * FRAMES + 1 }, () => random() * 2 - 1);

/**
 * A frame between frames as the docstring has it, in doubles and one tap after another: a sinc of 14 zero crossings to a side under a
 * Kaiser window of 9.62, cut off at the lower Nyquist frequency, held to the semitone above.
 */
function plain(at: number, low: number, high: number, position: number, ratio: number): number {
  const semitones = Math.max(0, Math.ceil(12 * Math.log2(ratio) - 1e-6));
  const cutoff = semitones > 24 ? 1 / ratio : 2 ** (-semitones / 12);
  let sum = 0;
  for (let frame = low; frame < high; frame++) {
    const u = cutoff * (frame - position);
    if (Math.abs(u) >= 14) continue;
    const sinc = u === 0 ? 1 : Math.sin(Math.PI * u) / (Math.PI * u);
    sum += cutoff * sinc * kaiser(u / 14, 9.62) * (floats[at + frame] as number);
  }
  return sum;
}

test('frames read at any ratio from any place are those of the formula, within -90 dB, and silence lies around them', () => {
  const interpolation = threadInterpolation();
  const memory = samplesOf(floats);
  const side = fc.integer({ min: 0, max: 2 });
  fc.assert(
    fc.property(
      fc.double({ min: 0.2, max: 6, noNaN: true }).filter((ratio) => ratio !== 1),
      fc.double({ min: 0, max: 300, noNaN: true }),
      fc.integer({ min: 0, max: 200 }),
      fc.integer({ min: 1, max: FRAMES - 200 }),
      side,
      side,
      fc.integer({ min: 1, max: CHUNK }),
      (ratio, begin, low, length, left, right, count) => {
        const [leftAt, rightAt] = [left, right].map((s) => Math.min(s * FRAMES, FRAMES + 1)) as [number, number];
        const high = low + length;
        const bank = interpolation.bankFor(ratio);
        interpolation.read(memory, leftAt, rightAt, low, high, begin, ratio, bank, count);
        for (let n = 0, position = begin; n < count; n++, position += ratio) {
          const [l, r] = interpolation.frames.subarray(2 * n, 2 * n + 2) as unknown as [number, number];
          expect(Math.abs(l - plain(leftAt, low, high, position, ratio))).toBeLessThan(10 ** (-90 / 20));
          expect(Math.abs(r - plain(rightAt, low, high, position, ratio))).toBeLessThan(10 ** (-90 / 20));
        }
      },
    ),
    { seed: 28, numRuns: 120 },
  );
});

test('at its own rate the very samples are taken', () => {
  const interpolation = threadInterpolation();
  interpolation.read(samplesOf(floats), 0, FRAMES, 3, 300, 7, 1, interpolation.bankFor(1), 50);
  for (let n = 0; n < 50; n++)
    expect([...interpolation.frames.subarray(2 * n, 2 * n + 2)]).toEqual([floats[7 + n], floats[FRAMES + 7 + n]]);
});
