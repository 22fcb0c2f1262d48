import { detectOnsets } from '../onset/detect';
import { seededRandom } from '../signal/random';
import { Sketcher } from './sketch';
import { type Bareness, byBareness, cutShortDb } from './wholeness';

const RATE = 44100;

/** A drum of noise that falls by 60 dB in `ringS` seconds, struck at 0.2 s, in a recording of 2 s. */
function drum(ringS: number): Float32Array {
  const random = seededRandom(4);
  return Float32Array.from({ length: 2 * RATE }, (_, i) => {
    const t = i / RATE - 0.2;
    return t < 0 ? 0 : 0.7 * (random() * 2 - 1) * 10 ** ((-3 * t) / ringS);
  });
}

function cutAfter(seconds: number, ringS: number): number | null {
  const samples = drum(ringS);
  const candidates = detectOnsets(samples, RATE);
  const startFrame = Math.round(0.2 * RATE);
  const endFrame = startFrame + Math.round(seconds * RATE);
  const sketch = new Sketcher(RATE).sketch(samples, startFrame, endFrame);
  return cutShortDb(sketch, { startFrame, endFrame }, candidates, RATE);
}

test('a drum that would ring for half a second and is cut after 0.3 s is told to be, one that rings out is whole', () => {
  // It has fallen by 36 dB there; the last stretch of the sketch lies a little before.
  expect(cutAfter(0.3, 0.5)).toBeGreaterThan(-40);
  expect(cutAfter(0.3, 0.5)).toBeLessThan(-25);
  expect(cutAfter(0.1, 0.5)).toBeGreaterThan(cutAfter(0.3, 0.5) as number);
  expect(cutAfter(0.6, 0.5)).toBeNull();
  expect(cutAfter(1.3, 0.5)).toBeNull();
});

test('a slice that no onset is known of is taken for whole', () => {
  const sketch = new Sketcher(RATE).sketch(drum(0.5), 0, 4000);
  expect(cutShortDb(sketch, { startFrame: 0, endFrame: 4000 }, [], RATE)).toBeNull();
});

test('of takes that are alike free of others the whole one is barer, and no two stand level', () => {
  const take = (more: Partial<Bareness>): Bareness => ({
    foreignDb: -120,
    cutShortDb: null,
    lufs: -20,
    startFrame: 0,
    ...more,
  });
  const takes = [
    take({ cutShortDb: -18 }),
    take({ startFrame: 900 }),
    take({ foreignDb: -30 }),
    take({ lufs: -30 }),
    take({ startFrame: 500 }),
    take({ cutShortDb: -40 }),
  ];
  const order = [...takes].sort(byBareness).map((t) => takes.indexOf(t));
  expect(order).toEqual([4, 1, 3, 5, 2, 0]);
  for (const a of takes) for (const b of takes) if (a !== b) expect(byBareness(a, b)).not.toBe(0);
});
