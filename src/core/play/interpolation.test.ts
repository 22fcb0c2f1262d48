import fc from 'fast-check';
import { seededRandom } from '../signal/random';
import { kaiser } from '../signal/window';
import { CHUNK, type Reading, samplesOf, threadInterpolation } from './interpolation';

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

function reading(set: Partial<Reading>): Reading {
  const plainly = { left: 0, right: FRAMES, start: 0, end: FRAMES, reversed: false, loopStart: 0, loopEnd: 0, seam: 0 };
  return {
    ...plainly,
    position: 0,
    ratio: 1,
    bend: 0,
    bank: threadInterpolation().bankFor(Float64Array.of(set.ratio ?? 1), 0),
    ...set,
  };
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
        const bank = interpolation.bankFor(Float64Array.of(ratio), 0);
        interpolation.read(
          memory,
          reading({ left: leftAt, right: rightAt, start: low, end: high, position: begin, ratio, bank }),
          count,
        );
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
  interpolation.read(samplesOf(floats), reading({ start: 3, end: 300, position: 7 }), 50);
  for (let n = 0; n < 50; n++)
    expect([...interpolation.frames.subarray(2 * n, 2 * n + 2)]).toEqual([floats[7 + n], floats[FRAMES + 7 + n]]);
});

/** The channel laid out as it is played: backwards, and with its loop unrolled, each seam faded by hand. */
function laidOut({ start, end, reversed, loopStart, loopEnd, seam }: Reading, frames: number): Float32Array {
  const own = floats.slice(start, end);
  if (reversed) own.reverse();
  const [from, to] = [loopStart - start, loopEnd - start];
  if (to <= from) return own;
  const once = own.slice(0, to);
  for (let n = 1; n <= seam; n++) {
    const at = to - seam + n - 1;
    const before = at - (to - from);
    const [share, value] = [n / (seam + 1), before >= 0 ? (own[before] as number) : 0];
    once[at] = (1 - share) * (own[at] as number) + share * value;
  }
  return Float32Array.from({ length: frames }, (_, i) =>
    i < to ? (once[i] as number) : (once[from + ((i - from) % (to - from))] as number),
  );
}

test('a loop with a seam, and a sound backwards, are read as if they were laid out in memory, at any ratio', () => {
  const interpolation = threadInterpolation();
  const loops = [
    { start: 3, end: 390, reversed: true },
    { start: 5, end: 395, loopStart: 100, loopEnd: 180, seam: 0 },
    { start: 5, end: 395, loopStart: 100, loopEnd: 220, seam: 40 },
    { start: 0, end: 300, loopStart: 10, loopEnd: 60, seam: 30, reversed: true },
  ];
  for (const loop of loops)
    for (const ratio of [1, 0.7, 1.9, 5]) {
      const of = reading({ ...loop, ratio });
      const laid = laidOut(of, 4000);
      const unrolled = samplesOf(laid.length % 2 === 0 ? laid : Float32Array.from([...laid, 0]));
      for (const into of [0, 60, 250]) {
        interpolation.read(samplesOf(floats), { ...of, right: 0, position: of.start + into }, CHUNK);
        const played = interpolation.frames.slice();
        const plainly = { ...of, left: 0, right: 0, start: 0, end: laid.length, reversed: false, loopEnd: 0 };
        interpolation.read(unrolled, { ...plainly, position: into }, CHUNK);
        // Past the end of a sound that is not looped nothing is read: it is not the interpolation's to end it.
        const count = (of.loopEnd ?? 0) > 0 ? CHUNK : Math.floor(Math.min(CHUNK, (laid.length - into) / ratio));
        for (let n = 0; n < 2 * count; n++)
          expect(Math.abs((played[n] as number) - (interpolation.frames[n] as number))).toBeLessThan(1e-5);
      }
    }
});

test('a ratio that bends reads where the sum of its ratios is', () => {
  const interpolation = threadInterpolation();
  const line = samplesOf(Float32Array.from({ length: 4000 }, (_, i) => i / 4000));
  const [from, bend] = [700, 0.004];
  const of = reading({
    right: 0,
    end: 4000,
    position: from,
    ratio: 1.1,
    bend,
    bank: interpolation.bankFor(Float64Array.of(1.7), 0),
  });
  interpolation.read(line, of, CHUNK);
  for (let n = 0; n < CHUNK; n++) {
    const position = from + 1.1 * n + (bend * n * (n - 1)) / 2;
    // A line passes a linear-phase filter of unity gain unchanged, but for its ripple.
    expect(Math.abs((interpolation.frames[2 * n] as number) * 4000 - position)).toBeLessThan(0.05);
  }
});
