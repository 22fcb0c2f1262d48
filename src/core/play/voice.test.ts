import { at, ONES, padOf, play, RATE, render } from '../../../test/voices';
import { responseDb } from '../filter/biquad';
import { bandPass, butterworth, notch, pass } from '../filter/cookbook';
import { toDb } from '../signal/units';
import { VoiceEngine } from './engine';
import { fallen } from './envelope';
import type { PadSound } from './program';

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
