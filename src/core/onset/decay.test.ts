import fc from 'fast-check';
import { seededRandom } from '../signal/random';
import { roomTone, tailsOf } from './decay';
import { energySteps } from './energy';

const RATE = 44100;

/** A tone that falls by `fallDb` a second from full scale, over white noise of a level in dBFS. */
function tail(fallDb: number, roomDb: number, seconds: number, startS = 0): Float32Array {
  const random = seededRandom(2);
  const room = 10 ** (roomDb / 20) * Math.sqrt(3);
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => {
    const t = i / RATE - startS;
    return (t < 0 ? 0 : Math.sin(i * 0.3) * 10 ** ((-fallDb * t) / 20)) + room * (random() * 2 - 1);
  });
}
const endS = (samples: Float32Array, startS = 0) =>
  tailsOf(energySteps(samples, RATE)).endOf(startS * RATE, samples.length) / RATE;

test('out of silence a sound ends where it reaches 60 dB under its peak', () => {
  expect(endS(tail(60, -300, 2))).toBeCloseTo(1, 1);
});

test.each([-60, -50, -40, -32, -25])(
  'over a room of %d dBFS it ends where it falls to the level of the room',
  (room) => {
    // A sine of full scale has -3 dBFS.
    for (const fall of [30, 60, 200]) {
      const falls = (-3 - room) / fall;
      const end = endS(tail(fall, room, falls + 1.5, 0.2), 0.2) - 0.2;
      expect(Math.abs(end - falls)).toBeLessThan(Math.max(0.03, 0.2 * falls));
    }
  },
);

test('mains hum is a room like another', () => {
  const samples = tail(60, -80, 2.5, 0.2).map((x, i) => x + 0.02 * Math.sin((2 * Math.PI * 50 * i) / RATE));
  const falls = (-3 - 20 * Math.log10(0.02 / Math.SQRT2)) / 60;
  expect(Math.abs(endS(samples, 0.2) - 0.2 - falls)).toBeLessThan(0.2 * falls);
});

test('the room tone is the level of noise, not the least of its swing', () => {
  for (const room of [-60, -30])
    expect(10 * Math.log10(roomTone(energySteps(tail(200, room, 4), RATE)))).toBeCloseTo(room, 0);
  expect(roomTone(energySteps(new Float32Array(RATE), RATE))).toBe(0);
});

test('an end lies between the start and the limit, whatever sounds', () => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 400 }),
      fc.nat(399),
      fc.nat(500),
      (power, start, length) => {
        const first = Math.min(start, power.length - 1);
        const limit = first + 1 + length;
        const end = tailsOf({ step: 1, power: Float32Array.from(power) }).endOf(first, limit);
        expect(end).toBeGreaterThan(first);
        expect(end).toBeLessThanOrEqual(limit);
      },
    ),
    { seed: 4 },
  );
});
