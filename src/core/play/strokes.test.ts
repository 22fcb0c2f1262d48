import { at, ONES, padOf, play, RATE, render } from '../../../test/voices';
import { seededRandom } from '../signal/random';
import { pitchRatio } from '../signal/units';
import { VoiceEngine } from './engine';
import { type LayerSound, PLAIN_LAYER, SILENT } from './program';

describe('how pads play', () => {
  test('a looped pad goes on while it is held; a switched one until it is struck again', () => {
    const loop = { end: 1000, loopStart: 0, loopEnd: 1000 };
    const held = play(padOf({ mode: 2, levelRelease: 480 }, loop), 20_000, ONES, (engine) => engine.release(0, 9000));
    expect([at(held, 8999), at(held, 9480)]).toEqual([1, 0]);
    const switched = play(padOf({ mode: 3, levelRelease: 480 }, loop), 20_000, ONES, (engine) => {
      engine.release(0, 100);
      engine.strike(0, 127, 9000);
      engine.strike(0, 127, 15_000);
    });
    expect([at(switched, 8999), at(switched, 9480), at(switched, 15_000)]).toEqual([1, 0, 1]);
  });

  test('of a pad with two voices the third stroke cuts the first, in the time of its choke fade', () => {
    const engine = new VoiceEngine(RATE, ONES);
    engine.setPad(0, padOf({ voices: 2, chokeFrames: 960 }));
    for (const frame of [0, 1000, 2000]) engine.strike(0, 127, frame);
    const [left] = render(engine, 4000);
    expect([at(left, 1999), at(left, 2000 + 480), at(left, 2000 + 961)]).toEqual([2, expect.closeTo(2.5, 2), 2]);
  });

  test('takes come in turn for each range of velocity, or at random and never twice in a row', () => {
    const memory = Float32Array.from({ length: 80 }, (_, i) => 1 + Math.floor(i / 10));
    const take = (n: number, low: number, high: number): LayerSound => ({
      ...PLAIN_LAYER,
      ...{ left: n * 10, right: n * 10, start: 0, end: 10, take: 1, lowVelocity: low, highVelocity: high },
    });
    const layers = [take(0, 1, 60), take(1, 1, 60), take(2, 61, 127), take(3, 61, 127), take(4, 61, 127)];
    const engine = new VoiceEngine(RATE, memory);
    const struck = (velocity: number) => {
      engine.strike(0, velocity);
      return at(render(engine, 20)[0], 0);
    };
    engine.setPad(0, { ...SILENT, velocityPower: 0, layers });
    expect([100, 100, 30, 100, 30, 100, 30].map(struck)).toEqual([3, 4, 1, 5, 2, 3, 1]);
    engine.setPad(0, { ...SILENT, velocityPower: 0, takeOrder: 1, layers });
    const many = Array.from({ length: 300 }, () => struck(90));
    for (let i = 1; i < 300; i++) expect(many[i]).not.toBe(many[i - 1]);
    for (const n of [3, 4, 5]) expect(many.filter((x) => x === n).length).toBeGreaterThan(70);
    // A layer under one take sounds with that alone.
    engine.setPad(0, {
      ...SILENT,
      velocityPower: 0,
      layers: [...layers, { ...take(6, 1, 127), take: 0, underTake: 1 }],
    });
    expect([30, 30, 30].map(struck).sort()).toEqual(expect.arrayContaining([1, 9]));
  });

  test('even strokes and the kit’s curve change the velocity of its pads, and of nothing else', () => {
    const engine = new VoiceEngine(RATE, ONES);
    for (const pad of [0, 130]) engine.setPad(pad, padOf({}, { end: 10 }));
    const struck = (pad: number) => {
      engine.strike(pad, 64);
      return at(render(engine, 20)[0], 0);
    };
    engine.setKit({ seed: 1, evenVelocity: 127, velocityExponent: 1 });
    expect(struck(0)).toBe(1);
    expect(struck(130)).toBeCloseTo((64 / 127) ** 2, 6);
    engine.setKit({ seed: 1, evenVelocity: 0, velocityExponent: 0.25 });
    expect(struck(0)).toBeCloseTo((Math.round(127 * (64 / 127) ** 0.25) / 127) ** 2, 6);
  });

  test('tuned back to its own rate while it sounds, a pad sounds on', () => {
    const engine = new VoiceEngine(RATE, ONES);
    engine.setPad(0, padOf({}, { ratio: pitchRatio(3) }));
    engine.strike(0, 127, 0);
    render(engine, 101);
    engine.setPad(0, padOf());
    expect(at(render(engine, 5000)[0], 4000)).toBeCloseTo(1, 4);
  });
});

test('ten thousand strokes in a minute at random times make no jump above those of their sounds', () => {
  const random = seededRandom(10_000);
  // A sound without an edge of its own: it rises and falls within 50 ms.
  const memory = Float32Array.from({ length: 2400 }, (_, i) => Math.sin((Math.PI * i) / 2400) ** 2);
  const steepest = Math.max(...memory.map((x, i) => Math.abs(x - (memory[i - 1] ?? 0))));
  const engine = new VoiceEngine(RATE, memory);
  for (let pad = 0; pad < 8; pad++)
    engine.setPad(pad, padOf({ gain: 0.02, chokeGroup: pad % 3, voices: pad % 4, chokeFrames: 192 }, { end: 2400 }));
  let worst = 0;
  let last = 0;
  let most = 0;
  const out = [new Float32Array(480), new Float32Array(480)] as const;
  for (let at10ms = 0; at10ms < 6000; at10ms++) {
    for (let n = 0; n < 10_000 / 6000 + (random() < 0.5 ? 0.5 : -0.5); n++)
      engine.strike(
        Math.floor(random() * 8),
        1 + Math.floor(random() * 127),
        at10ms * 480 + Math.floor(random() * 480),
      );
    engine.process(out[0], out[1], 480);
    most = Math.max(most, engine.activeVoices);
    for (const x of out[0]) {
      worst = Math.max(worst, Math.abs(x - last));
      last = x;
    }
  }
  expect(engine.struck).toBeGreaterThan(9000);
  // What sounds at once, each at its steepest, and a choke of 4 ms at its height.
  expect(worst).toBeLessThan(0.02 * most * (steepest + 1 / 192));
});
