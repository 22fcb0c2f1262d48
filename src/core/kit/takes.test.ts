import fc from 'fast-check';
import { FULL_VELOCITY_DB } from '../play/gains';
import { laidOverVelocity } from './takes';

test('takes of one strength share a range; a softer one lies below it, where the pad would be as soft', () => {
  const laid = laidOverVelocity(
    [
      { hitId: 'hard', lufs: -10 },
      { hitId: 'soft', lufs: -22 },
      { hitId: 'hard too', lufs: -11 },
    ],
    FULL_VELOCITY_DB,
  );
  expect(laid.map(({ hitId }) => hitId)).toEqual(['soft', 'hard too', 'hard']);
  const [soft, first, second] = laid;
  expect([first?.lowVelocity, first?.highVelocity]).toEqual([second?.lowVelocity, second?.highVelocity]);
  expect(first?.highVelocity).toBe(127);
  // 12 dB under the middle of the hard ones: about half the velocity; the range ends half way.
  expect(soft?.highVelocity).toBeGreaterThan(80);
  expect(soft?.highVelocity).toBeLessThan(100);
  expect(soft?.gainDb).toBeCloseTo(12, 6);
});

test('the ranges lie beside one another and cover every velocity, whatever the takes and the range of level', () => {
  const take = fc.record({
    hitId: fc.uuid(),
    lufs: fc.oneof(fc.double({ min: -90, max: 0, noNaN: true }), fc.constant(-Infinity)),
  });
  fc.assert(
    fc.property(
      fc.array(take, { minLength: 1, maxLength: 32 }),
      fc.double({ min: 0, max: FULL_VELOCITY_DB, noNaN: true }),
      (takes, range) => {
        const laid = laidOverVelocity(takes, range);
        expect(laid).toHaveLength(takes.length);
        const ranges = [...new Map(laid.map((l) => [l.lowVelocity, l.highVelocity]))];
        let next = 1;
        for (const [low, high] of ranges) {
          expect(low).toBe(next);
          expect(high).toBeGreaterThanOrEqual(low);
          next = high + 1;
        }
        expect(next).toBe(128);
      },
    ),
    { seed: 8 },
  );
});
