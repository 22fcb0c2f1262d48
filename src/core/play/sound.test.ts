import { responseDb } from '../filter/biquad';
import { bandPass, butterworth, notch, pass } from '../filter/cookbook';
import { seededRandom } from '../signal/random';
import { fromDb, pitchRatio, toDb } from '../signal/units';
import { VoiceEngine } from './engine';
import { fallen } from './envelope';
import { SOURCE, type SourceName, TARGET, type TargetName } from './moves';
import { type LayerSound, type PadSound, PLAIN_LAYER, SILENT } from './program';

const RATE = 48_000;
const ONES = new Float32Array(RATE * 4).fill(1);

function padOf(set: Partial<PadSound> = {}, layer: Partial<LayerSound> = {}): PadSound {
  return { ...SILENT, ...set, layers: [{ ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: ONES.length, ...layer }] };
}

function render(engine: VoiceEngine, frames: number, block = frames): [Float32Array, Float32Array] {
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames; at += block) engine.process(left, right, Math.min(block, frames - at), at);
  return [left, right];
}

function play(sound: PadSound, frames: number, memory = ONES, act: (engine: VoiceEngine) => void = () => {}) {
  const engine = new VoiceEngine(RATE, memory);
  engine.setPad(0, sound);
  engine.strike(0, 127, 0);
  act(engine);
  return render(engine, frames)[0];
}

const move = (source: SourceName, target: TargetName, depth: number) => ({
  source: SOURCE[source],
  target: TARGET[target],
  depth,
});

const at = (samples: Float32Array, i: number) => samples[i] as number;

describe('the filter, against the Audio EQ Cookbook and Butterworth', () => {
  /** The gain of the filter at a frequency, in dB: from the response to an impulse. */
  const impulse = Float32Array.from({ length: 40_000 }, (_, i) => (i === 0 ? 1 : 0));
  const gainAt = (response: Float32Array, hz: number) => {
    let [re, im] = [0, 0];
    for (const [i, x] of response.entries()) {
      re += x * Math.cos((2 * Math.PI * hz * i) / RATE);
      im += x * Math.sin((2 * Math.PI * hz * i) / RATE);
    }
    return 10 * Math.log10(re * re + im * im);
  };
  const octaves = (q: number, hz: number) => {
    // The bandwidth of a quality factor, by the cookbook's own relation.
    const w = (2 * Math.PI * hz) / RATE;
    return ((2 / Math.LN2) * Math.asinh(1 / (2 * q)) * Math.sin(w)) / w;
  };
  const cases = [80, 1000, 6000].flatMap((hz) => [Math.SQRT1_2, 3].map((q) => [hz, q] as const));
  test.each(cases)('at %i Hz, Q %f: every kind is within 0.1 dB of its formula', (hz, q) => {
    const kinds = [
      [1, 1, [pass(1, hz, q, RATE)]],
      [2, 1, [pass(-1, hz, q, RATE)]],
      [3, 1, [bandPass(hz, octaves(q, hz), RATE)]],
      [4, 1, [notch(hz, octaves(q, hz), RATE)]],
    ] as const;
    for (const [filter, sections, formula] of kinds) {
      const response = play(padOf({ filter, sections, cutoffHz: hz, resonance: q }, { end: 40_000 }), 40_000, impulse);
      for (const x of [0.1, 0.5, 0.9, 1, 1.2, 2, 3])
        if (hz * x < 20_000 && !(filter === 4 && x === 1))
          expect(Math.abs(gainAt(response, hz * x) - responseDb(formula, hz * x, RATE))).toBeLessThan(0.1);
    }
  });

  test('24 dB an octave are a Butterworth filter of the fourth order at the flattest resonance', () => {
    for (const [filter, side] of [
      [1, 1],
      [2, -1],
    ] as const) {
      const sound = padOf({ filter, sections: 2, cutoffHz: 1000, resonance: Math.SQRT1_2 }, { end: 40_000 });
      const response = play(sound, 40_000, impulse);
      for (const hz of [125, 500, 900, 1000, 1100, 2000, 4000]) {
        const wanted = responseDb(butterworth(side, 1000, 4, RATE), hz, RATE);
        if (wanted > -80) expect(Math.abs(gainAt(response, hz) - wanted)).toBeLessThan(0.1);
      }
    }
  });

  test('swept by its envelope it is at every moment the filter of that cutoff: a sine below it passes, one above does not', () => {
    const sine = ONES.map((_, i) => Math.sin((2 * Math.PI * 1000 * i) / RATE));
    const sound = { filter: 1, sections: 2, cutoffHz: 100, filterOctaves: 6, filterDecay: RATE, filterSustain: 0 };
    const swept = play(padOf(sound), 2 * RATE, sine);
    const level = (from: number) => Math.max(...swept.subarray(from, from + 480).map(Math.abs));
    expect(toDb(level(1000))).toBeGreaterThan(-1);
    expect(toDb(level(RATE + 2000))).toBeLessThan(-75);
  });
});

describe('envelopes', () => {
  const stages = {
    levelAttack: 700,
    levelHold: 1000,
    levelDecay: 4001,
    levelSustain: 0.25,
    levelRelease: 3000,
    mode: 1,
  };
  const expected = (age: number) => {
    if (age < 700) return age / 700;
    if (age <= 1700) return 1;
    return age >= 5701 ? 0.25 : 0.25 + 0.75 * fallen((age - 1700) / 4001);
  };

  test('rise, hold, fall and stay at their very frames, and let go to nothing at the frame of its end', () => {
    const heard = play(padOf(stages), 12_000, ONES, (engine) => engine.release(0, 8000));
    for (let i = 0; i < 8000; i++) expect(Math.abs(at(heard, i) - expected(i))).toBeLessThan(4e-4);
    for (const corner of [0, 700, 1700, 5701]) expect(at(heard, corner)).toBeCloseTo(expected(corner), 6);
    expect(at(heard, 8000)).toBeCloseTo(0.25, 6);
    expect(at(heard, 10_999)).toBeGreaterThan(0);
    expect(at(heard, 11_000)).toBe(0);
  });

  test('a fall is exponential and ends on its frame', () => {
    expect([fallen(0), fallen(1)]).toEqual([1, 0]);
    const heard = play(padOf({ levelDecay: 4800, levelSustain: 0 }), 6000);
    expect(at(heard, 2400)).toBeCloseTo((Math.exp(-2.5) - Math.exp(-5)) / (1 - Math.exp(-5)), 4);
    expect(at(heard, 4799)).toBeGreaterThan(0);
    expect(at(heard, 4800)).toBe(0);
  });

  test('letting go in the attack falls from where it is', () => {
    const heard = play(padOf({ ...stages, levelAttack: 2000 }), 6000, ONES, (engine) => engine.release(0, 1000));
    expect(at(heard, 1000)).toBeCloseTo(0.5, 5);
    for (let i = 1001; i < 4000; i++) expect(at(heard, i)).toBeLessThan(at(heard, i - 1));
    expect(at(heard, 4000)).toBe(0);
  });

  test('the pitch envelope ends on the pitch of the pad: its sine is there again, and on the way it is above', () => {
    const hz = 500;
    const sine = ONES.map((_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
    const heard = play(padOf({ pitchSemitones: 12, pitchDecay: 9600, pitchSustain: 0 }), RATE, sine);
    const crossings = (from: number, to: number) => {
      let count = 0;
      for (let i = from + 1; i < to; i++) if (at(heard, i - 1) < 0 && at(heard, i) >= 0) count++;
      return count / ((to - from) / RATE);
    };
    expect(crossings(0, 480)).toBeGreaterThan(1.7 * hz);
    expect(crossings(10_000, 10_000 + 0.5 * RATE)).toBeCloseTo(hz, 0);
  });
});

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
    const every: Partial<PadSound> = {
      ...{
        filter: 1,
        sections: 2,
        cutoffHz: 900,
        resonance: 2,
        filterOctaves: 3,
        pitchSemitones: 5,
        mode: 2,
        width: 1.3,
      },
      ...{
        levelAttack: 333,
        levelDecay: 9000,
        levelSustain: 0.4,
        levelRelease: 2500,
        filterDecay: 5000,
        filterSustain: 0,
      },
      ...{
        pitchDecay: 3001,
        pitchSustain: 0,
        driftCents: 20,
        driftDb: 2,
        lfo2Form: 6,
        lfo1Period: 777,
        lfo2Period: 5000,
      },
      ...{ fadeInFrames: 100, fadeOutFrames: 900, takeOrder: 1, chokeGroup: 1, chokeFrames: 400 },
      moves: [
        move('lfo1', 'tune', 40),
        move('lfo2', 'cutoff', 1),
        move('wheel', 'lfo1Rate', 2),
        move('chance', 'start', 4),
      ],
    };
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

test('parameters turned while 32 voices sound leave nothing above -80 dB between the partials', () => {
  const hz = 1000;
  const sine = ONES.map((_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
  const engine = new VoiceEngine(RATE, sine);
  const sound = (set: Partial<PadSound>) => padOf({ gain: 0.03, filter: 1, sections: 2, cutoffHz: 4000, ...set });
  for (let pad = 0; pad < 32; pad++) {
    engine.setPad(pad, sound({}));
    engine.strike(pad, 127, 0);
  }
  render(engine, 9600);
  const frames = 32_768;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  // Forty changes a second: as a hand turns them.
  for (let i = 0, at0 = 0; at0 < frames; i++, at0 += 1200) {
    for (let pad = 0; pad < 32; pad++)
      engine.setPad(
        pad,
        sound({ gain: 0.03 + 0.0003 * (i % 20), pan: 0.02 * (i % 10), cutoffHz: 4000 * 1.02 ** (i % 25) }),
      );
    engine.process(left, right, Math.min(1200, frames - at0), at0);
  }
  // Under a window whose side lobes lie below -92 dB (F. J. Harris, "On the use of windows", 1978: four-term Blackman-Harris).
  const [a0, a1, a2, a3] = [0.35875, 0.48829, 0.14128, 0.01168];
  const level = (f: number) => {
    let [re, im] = [0, 0];
    for (let i = 0; i < frames; i++) {
      const x = (2 * Math.PI * i) / frames;
      const w = a0 - a1 * Math.cos(x) + a2 * Math.cos(2 * x) - a3 * Math.cos(3 * x);
      const p = (2 * Math.PI * f * i) / RATE;
      re += w * at(left, i) * Math.cos(p);
      im += w * at(left, i) * Math.sin(p);
    }
    return 10 * Math.log10(re * re + im * im);
  };
  const partial = level(hz);
  for (const f of [300, 600, 800, 1250, 1500, 2000, 2500, 3000, 4500, 9000])
    expect(level(f) - partial).toBeLessThan(-80);
});
