import fc from 'fast-check';
import { pitchRatio, toDb } from '../signal/units';
import { VoiceEngine } from './engine';
import { FULL_VELOCITY_DB, panGains, velocityGain, velocityUnder } from './gains';
import { type PadSound, PLAIN_LAYER, SILENT } from './program';

const RATE = 48000;

function pad(set: Partial<PadSound> & { frames?: number; ratio?: number } = {}): PadSound {
  const { frames = 1000, ratio = 1, ...rest } = set;
  const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: frames, ratio };
  return { ...SILENT, layers: [layer], ...rest };
}

function render(engine: VoiceEngine, frames: number, block = frames): [Float32Array, Float32Array] {
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += block) engine.process(left, right, Math.min(block, frames - at), at);
  return [left, right];
}

const sine = (frames: number, hz: number, rate = RATE) =>
  Float32Array.from({ length: frames }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));

/** What is left of `x` in the middle once the best-fitting sine of `hz` is taken away, in dB under that sine. */
function residualDb(x: Float32Array, hz: number): number {
  const from = 4000;
  const to = x.length - 4000;
  let cc = 0,
    cs = 0,
    ss = 0,
    xc = 0,
    xs = 0;
  for (let i = from; i < to; i++) {
    const c = Math.cos((2 * Math.PI * hz * i) / RATE);
    const s = Math.sin((2 * Math.PI * hz * i) / RATE);
    cc += c * c;
    cs += c * s;
    ss += s * s;
    xc += (x[i] as number) * c;
    xs += (x[i] as number) * s;
  }
  const det = cc * ss - cs * cs;
  const a = (xc * ss - xs * cs) / det;
  const b = (xs * cc - xc * cs) / det;
  let rest = 0;
  for (let i = from; i < to; i++) {
    const fit = a * Math.cos((2 * Math.PI * hz * i) / RATE) + b * Math.sin((2 * Math.PI * hz * i) / RATE);
    rest += ((x[i] as number) - fit) ** 2;
  }
  return 10 * Math.log10(rest / (to - from) / ((a * a + b * b) / 2));
}

describe('interpolation, against the exact sine', () => {
  const cases = [1, 2, 5, 7, 12, -1, -5, -12].flatMap((st) =>
    [100, 997, 5000, 10000, 15000].map((hz) => [st, hz] as const),
  );
  test.each(cases.filter(([st, hz]) => hz * pitchRatio(st) <= 16000))(
    '%i semitones, %i Hz: level within 0.01 dB, residual under -90 dB',
    (st, hz) => {
      const ratio = pitchRatio(st);
      const memory = sine(80000, hz);
      const engine = new VoiceEngine(RATE, memory);
      engine.setPad(0, pad({ frames: 80000, ratio }));
      engine.strike(0, 127);
      const [left] = render(engine, Math.floor(79000 / ratio));
      expect(residualDb(left, hz * ratio)).toBeLessThan(-90);
      const middle = left.subarray(4000, left.length - 4000);
      let power = 0;
      for (const x of middle) power += x * x;
      expect(Math.abs(10 * Math.log10((2 * power) / middle.length))).toBeLessThan(0.01);
    },
  );

  test('what would pass the new Nyquist frequency is not heard', () => {
    const engine = new VoiceEngine(RATE, sine(80000, 15000));
    engine.setPad(0, pad({ frames: 80000, ratio: 2 }));
    engine.strike(0, 127);
    const [left] = render(engine, 39000);
    expect(toDb(Math.max(...left.subarray(4000, 35000).map(Math.abs)))).toBeLessThan(-90);
  });

  test('without a shift the samples are copied exactly', () => {
    const memory = Float32Array.from({ length: 1000 }, (_, i) => Math.fround(Math.sin(i * i)));
    const engine = new VoiceEngine(RATE, memory);
    engine.setPad(0, pad());
    engine.strike(0, 127);
    expect(render(engine, 1000)[0]).toEqual(memory);
  });
});

describe('time', () => {
  test('a strike starts on its very frame', () => {
    const engine = new VoiceEngine(RATE, new Float32Array(1000).fill(0.5));
    engine.setPad(0, pad({ frames: 10 }));
    engine.strike(0, 127, 77);
    const [left] = render(engine, 200);
    expect([left[76], left[77], left[86], left[87]]).toEqual([0, 0.5, 0.5, 0]);
  });

  test('frames are the same for any block length', () => {
    const memory = sine(20000, 313);
    const play = (block: number) => {
      const engine = new VoiceEngine(RATE, memory, 6);
      engine.setPad(0, pad({ frames: 9000, ratio: pitchRatio(3, 20), chokeGroup: 1, fadeOutFrames: 400 }));
      engine.setPad(1, pad({ frames: 7000, mode: 1 }));
      for (let i = 0; i < 12; i++) engine.strike(i % 2, 30 + i * 8, 100 + i * 733);
      engine.release(1, 5000);
      engine.stop(-1, 9900);
      return render(engine, 12000, block);
    };
    const whole = play(12000);
    for (const block of [1, 64, 128, 1000]) expect(play(block)).toEqual(whole);
  });

  test('a layer may wait', () => {
    const engine = new VoiceEngine(RATE, new Float32Array(100).fill(0.25));
    const [layer] = pad({ frames: 5 }).layers;
    engine.setPad(0, pad({ layers: [{ ...(layer as PadSound['layers'][number]), delay: 3 }] }));
    engine.strike(0, 127);
    expect([...render(engine, 10, 2)[0]]).toEqual([0, 0, 0, 0.25, 0.25, 0.25, 0.25, 0.25, 0, 0]);
  });
});

describe('playing', () => {
  const ones = new Float32Array(48000).fill(1);

  test('a held pad fades when let go, a one-shot does not', () => {
    for (const held of [true, false]) {
      const engine = new VoiceEngine(RATE, ones);
      engine.setPad(0, pad({ frames: 48000, mode: Number(held) }));
      engine.strike(0, 127, 0);
      engine.release(0, 1000);
      const [left] = render(engine, 10000);
      expect(left[9000]).toBe(held ? 0 : 1);
    }
  });

  test('pads of one group silence each other within 4 ms, without a click', () => {
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 48000, chokeGroup: 2 }));
    engine.setPad(1, pad({ frames: 100, gain: 0, chokeGroup: 2 }));
    engine.strike(0, 127, 0);
    engine.strike(1, 127, 1000);
    const [left] = render(engine, 4000);
    expect(left[999]).toBe(1);
    expect(left[1000 + 0.004 * RATE + 1]).toBe(0);
    let step = 0;
    for (let i = 900; i < 2000; i++) step = Math.max(step, Math.abs((left[i] as number) - (left[i - 1] as number)));
    expect(step).toBeLessThan(0.006);
  });

  test('layers struck together do not choke one another', () => {
    const engine = new VoiceEngine(RATE, ones);
    const { layers } = pad({ frames: 4000 });
    engine.setPad(0, pad({ chokeGroup: 1, layers: [...layers, ...layers] }));
    engine.strike(0, 127);
    expect(render(engine, 3000)[0][2900]).toBe(2);
  });

  test('past the voice limit the oldest leaves without a click, and never more than the limit sound on', () => {
    const engine = new VoiceEngine(RATE, ones, 4);
    engine.setPad(0, pad({ frames: 48000, gain: 0.1 }));
    for (let i = 0; i < 12; i++) engine.strike(0, 127, i * 300);
    const [left] = render(engine, 6000);
    expect(left[5900]).toBeCloseTo(0.4, 5);
    for (let i = 1; i < 6000; i++) expect((left[i] as number) - (left[i - 1] as number)).toBeGreaterThan(-0.002);
  });

  test('stop forgets strikes that were to come', () => {
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 100 }));
    engine.strike(0, 127, 500);
    engine.stop(0, 100);
    expect(Math.max(...render(engine, 1000)[0])).toBe(0);
  });

  test('the fade before the end reaches zero at the end', () => {
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 1000, fadeOutFrames: 100 }));
    engine.strike(0, 127);
    const [left] = render(engine, 1000);
    expect([left[899], left[950], left[999]]).toEqual([1, 0.5, Math.fround(0.01)]);
  });

  test('nothing that is thrown at it breaks it: any strikes leave finite sound and free voices', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.integer({ min: 0, max: 70 }),
            fc.integer({ min: -5, max: 200 }),
            fc.integer({ min: 0, max: 5000 }),
          ),
          { maxLength: 200 },
        ),
        (strikes) => {
          const engine = new VoiceEngine(RATE, ones, 8);
          for (let p = 0; p < 64; p++)
            engine.setPad(p, pad({ frames: 500 + p, ratio: 0.5 + p / 30, chokeGroup: p % 3, mode: p % 2 }));
          for (const [p, velocity, frame] of strikes) engine.strike(p, velocity, frame);
          const [left] = render(engine, 9000, 128);
          expect(left.every(Number.isFinite)).toBe(true);
          expect(engine.activeVoices).toBe(0);
        },
      ),
      { seed: 4, numRuns: 25 },
    );
  });
});

describe('levels', () => {
  test('pan keeps the power and is exactly one on both sides in the centre', () => {
    expect(panGains(0)).toEqual({ left: 1, right: 1 });
    for (const pan of [-1, -0.6, 0.2, 1]) {
      const { left, right } = panGains(pan);
      expect(left * left + right * right).toBeCloseTo(2, 12);
    }
    expect(panGains(-1)).toEqual({ left: Math.SQRT2, right: 0 });
  });

  test('velocity follows the curve of the SoundFont standard over its range: 64 is 11.9 dB under 127 at the whole', () => {
    expect(velocityGain(127)).toBe(1);
    expect(toDb(velocityGain(64))).toBeCloseTo(40 * Math.log10(64 / 127), 10);
    expect(velocityGain(0)).toBe(0);
    expect(velocityGain(1, 0)).toBe(1);
    expect(toDb(velocityGain(64, FULL_VELOCITY_DB / 2))).toBeCloseTo(-5.95, 2);
    expect(toDb(velocityGain(1, FULL_VELOCITY_DB / 2))).toBeCloseTo(-42.1, 1);
    expect(toDb(velocityGain(1, 18))).toBeCloseTo(-18, 10);
    for (const range of [6, 18, FULL_VELOCITY_DB])
      for (const velocity of [1, 40, 127])
        expect(velocityUnder(-toDb(velocityGain(velocity, range)), range)).toBeCloseTo(velocity, 6);
  });
});

describe('a pad that is changed while it sounds', () => {
  const ones = new Float32Array(96_000).fill(0.5);

  test('changes its level within 20 ms, in steps too small to hear, and ends exactly there', () => {
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 96_000 }));
    engine.strike(0, 127);
    render(engine, 1000);
    engine.setPad(0, pad({ frames: 96_000, gain: 0.1 }));
    const [left, right] = render(engine, 1000);
    expect([left[999], right[999]]).toEqual([Math.fround(0.05), Math.fround(0.05)]);
    for (let i = 1; i < 1000; i++)
      expect(Math.abs((left[i] as number) - (left[i - 1] as number))).toBeLessThan(0.5 / 400);
  });

  test('changes its pitch without a click: a sine dragged up an octave has nothing between its partials', () => {
    const sweep = (glides: boolean) => {
      const engine = new VoiceEngine(RATE, sine(96_000, 500));
      engine.setPad(0, pad({ frames: 96_000 }));
      engine.strike(0, 127);
      const out = render(engine, 4800)[0];
      if (glides) engine.setPad(0, pad({ frames: 96_000, ratio: 2 }));
      return { before: out, after: render(engine, 9600)[0] };
    };
    const { before, after } = sweep(true);
    const all = [...before.subarray(-200), ...after];
    // A sine of at most 1 kHz turns by so much a frame: a click would be a jump.
    const most = (2 * Math.PI * 1000) / RATE;
    for (let i = 1; i < all.length; i++)
      expect(Math.abs((all[i] as number) - (all[i - 1] as number))).toBeLessThan(1.05 * most);
    expect(
      residualDb(
        Float32Array.from([...new Array(4000).fill(0), ...after.subarray(1100), ...new Array(4000).fill(0)]),
        1000,
      ),
    ).toBeLessThan(-60);
  });

  test('is the same for any block length, and changed back it is bit for bit what it was', () => {
    const play = (block: number) => {
      const engine = new VoiceEngine(RATE, sine(96_000, 313));
      engine.setPad(0, pad({ frames: 96_000, ratio: 1.3, fadeOutFrames: 500 }));
      engine.strike(0, 99);
      const first = render(engine, 1280, block);
      engine.setPad(0, pad({ frames: 96_000, ratio: 0.7, gain: 0.2, fadeOutFrames: 900 }));
      const second = render(engine, 12_800, block);
      return [first, second];
    };
    for (const block of [1, 64, 128, 1000]) expect(play(block)).toEqual(play(12_800));
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 96_000 }));
    engine.strike(0, 127);
    engine.setPad(0, pad({ frames: 96_000, gain: 0.3 }));
    render(engine, 100);
    engine.setPad(0, pad({ frames: 96_000 }));
    expect(render(engine, 1100)[0][1099]).toBe(0.5);
  });

  test('keeps playing what it began with where it now has another sound', () => {
    const engine = new VoiceEngine(RATE, ones);
    engine.setPad(0, pad({ frames: 1000 }));
    engine.strike(0, 127);
    render(engine, 1);
    engine.setPad(0, {
      ...pad({ gain: 0 }),
      layers: [{ ...(pad().layers[0] as never as object), left: 5000, right: 5000 } as never],
    });
    expect(render(engine, 900)[0][898]).toBe(0.5);
  });

  test('a pad of more layers than it may have is refused, not cut short', () => {
    const { layers } = pad();
    expect(() =>
      new VoiceEngine(RATE, ones).setPad(0, pad({ layers: Array.from({ length: 33 }, () => layers[0] as never) })),
    ).toThrow(/32 layers/);
  });
});
