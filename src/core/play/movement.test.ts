import { at, MOVED, move, ONES, padOf, play, RATE, render } from '../../../test/voices';
import { seededRandom } from '../signal/random';
import { fromDb, toDb } from '../signal/units';
import { VoiceEngine } from './engine';
import type { LayerSound } from './program';

describe('what moves a sound', () => {
  test('velocity to level goes by its range, and other sources by their depth', () => {
    const range = padOf({
      velocityPower: 0.5,
      moves: [move('velocity', 'level', -6), move('note', 'pan', 1)],
      note: 0,
    });
    const engine = new VoiceEngine(RATE, ONES);
    engine.setPad(0, range);
    engine.strike(0, 64, 0);
    const [left, right] = render(engine, 10);
    const gain = (64 / 127) ** 0.5 * fromDb((-6 * 64) / 127);
    // Note 0 is as far to the left as 60 is in the middle.
    expect([at(left, 5), at(right, 5)]).toEqual([Math.fround(gain * Math.SQRT2), 0]);
  });

  test('an oscillator gives its form at its rate, begun anew by each stroke or running on beneath them', () => {
    for (const free of [0, 1]) {
      const sound = { lfo1Period: 4800, lfo1Free: free, moves: [move('lfo1', 'level', 6)] };
      const engine = new VoiceEngine(RATE, ONES);
      engine.setPad(0, padOf(sound));
      engine.strike(0, 127, 1200);
      const [left] = render(engine, 12_000);
      for (const i of [1300, 2400, 5000, 9000]) {
        const phase = (i - (free ? 0 : 1200)) / 4800;
        expect(toDb(at(left, i))).toBeCloseTo(6 * Math.sin(2 * Math.PI * phase), 1);
      }
    }
  });

  test('controllers and pressure move what sounds, from the frame they come on', () => {
    const moves = [move('wheel', 'level', 12), move('pressure', 'pan', 1)];
    const heard = play(padOf({ moves }), 9000, ONES, (engine) => {
      engine.control(1, 0.5, 3000);
      engine.press(0, 0.5, 6000);
    });
    expect(at(heard, 3000)).toBe(1);
    expect(toDb(at(heard, 3300))).toBeCloseTo(6, 4);
    expect(at(heard, 6300)).toBeCloseTo(fromDb(6) * Math.SQRT2 * Math.cos((3 * Math.PI) / 8), 5);
  });

  test('drift and chance differ from stroke to stroke within their range, and are the same after a rewind', () => {
    const engine = new VoiceEngine(RATE, ONES);
    engine.setPad(0, padOf({ driftDb: 3, moves: [move('chance', 'start', 0)] }, { end: 10 }));
    const levels = () =>
      Array.from({ length: 40 }, () => {
        engine.strike(0, 127);
        return toDb(at(render(engine, 20)[0], 0));
      });
    const [first, second] = [levels(), levels()];
    engine.rewind();
    expect(levels()).toEqual(first);
    expect(second).not.toEqual(first);
    expect(Math.max(...first.map(Math.abs))).toBeLessThanOrEqual(3);
    expect(Math.max(...first)).toBeGreaterThan(1.5);
    expect(Math.min(...first)).toBeLessThan(-1.5);
    engine.setKit({ seed: 2, evenVelocity: 0, velocityExponent: 1 });
    engine.rewind();
    expect(levels()).not.toEqual(first);
  });

  test('width 0 is mono, and 2 doubles the sides', () => {
    const memory = new Float32Array(2000).fill(0.5, 0, 1000).fill(0.1, 1000);
    for (const [width, wanted] of [
      [0, [0.3, 0.3]],
      [1, [0.5, 0.1]],
      [2, [0.7, -0.1]],
    ] as const) {
      const engine = new VoiceEngine(RATE, memory);
      engine.setPad(0, padOf({ width }, { right: 1000, end: 1000 }));
      engine.strike(0, 127);
      const [left, right] = render(engine, 10);
      expect([at(left, 3), at(right, 3)]).toEqual(wanted.map((x) => expect.closeTo(x, 6)));
    }
  });

  test('everything at once gives the same frames for any block length', () => {
    const random = seededRandom(5);
    const memory = Float32Array.from({ length: 40_000 }, () => random() - 0.5);
    const every = { ...MOVED, fadeOutFrames: 900, chokeGroup: 1, chokeFrames: 400 };
    const take = { right: 20_000, end: 19_000, ratio: 1.01, take: 1, loopStart: 4000, loopEnd: 15_000, seam: 300 };
    const { layers } = padOf();
    const layer = (set: Partial<LayerSound>) => ({ ...(layers[0] as LayerSound), ...take, ...set });
    const run = (block: number) => {
      const engine = new VoiceEngine(RATE, memory);
      engine.setPad(0, { ...padOf(every), layers: [layer({}), layer({ ratio: 0.8 }), layer({ reversed: 1 })] });
      engine.setPad(1, { ...padOf({ ...every, mode: 0, filter: 2 }), layers: [layer({ ratio: 2.2, delay: 51 })] });
      for (let i = 0; i < 14; i++) engine.strike(i % 3 === 2 ? 1 : 0, 20 + i * 7, 77 + i * 1501);
      for (let i = 0; i < 5; i++) engine.release(0, 4000 + i * 4321);
      engine.control(1, 0.7, 9999);
      return render(engine, 40_000, block);
    };
    const whole = run(40_000);
    expect(Math.max(...whole[0].map(Math.abs))).toBeGreaterThan(0.1);
    for (const block of [1, 64, 128, 1000]) {
      const [left, right] = run(block);
      expect([block, left.findIndex((x, i) => x !== whole[0][i])]).toEqual([block, -1]);
      expect([block, right.findIndex((x, i) => x !== whole[1][i])]).toEqual([block, -1]);
    }
  });
});
