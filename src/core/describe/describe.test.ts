import { seededRandom } from '../signal/random';
import { centsBetween } from '../signal/units';
import { Describer } from './description';
import { envelopeOf } from './envelope';
import { logistic, type Network, runNetwork, softmax } from './network';
import { packSound, unpackSound } from './pack';
import { rootOf } from './root';
import { BANDS, bandMiddles, CELLS, Sketcher } from './sketch';

const RATE = 44100;

function noise(seconds: number, seed: number, rate = RATE): Float32Array {
  const random = seededRandom(seed);
  return Float32Array.from({ length: Math.round(seconds * rate) }, () => random() - 0.5);
}

function tone(hz: number, seconds: number, fall: number, rate = RATE): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    const t = i / rate;
    return 0.5 * Math.sin(2 * Math.PI * hz * t) * Math.exp(-fall * t);
  });
}

function add(into: Float32Array, at: number, sound: Float32Array, gain = 1): Float32Array {
  for (let i = 0; i < sound.length && at + i < into.length; i++)
    into[at + i] = (into[at + i] as number) + gain * (sound[i] as number);
  return into;
}

describe('the sketch', () => {
  test.each([44100, 48000, 96000])('at %i Hz has a tone in the band that its frequency lies in', (rate) => {
    for (const hz of [100, 440, 2500, 9000]) {
      const sketcher = new Sketcher(rate);
      const { powers, cells } = sketcher.sketch(tone(hz, 2, 0, rate), 0, 2 * rate);
      expect(cells).toBe(CELLS);
      const last = powers.subarray((cells - 1) * BANDS);
      const loudest = last.indexOf(Math.max(...last));
      // Bands under 200 Hz are no wider than a bin of some 43 Hz, so that the tone may lie on the edge of one.
      expect(Math.abs(Math.log2((bandMiddles(RATE)[loudest] as number) / hz))).toBeLessThan(hz < 200 ? 0.6 : 0.25);
    }
  });

  test('holds only what lies within the slice, and tells what rang on before', () => {
    const sound = new Float32Array(RATE);
    add(sound, 0, tone(3000, 0.4, 0));
    add(sound, Math.round(0.4 * RATE), tone(200, 0.5, 10));
    const sketcher = new Sketcher(RATE);
    const start = Math.round(0.4 * RATE);
    const short = sketcher.sketch(sound, start, start + Math.round(0.1 * RATE));
    const long = sketcher.sketch(sound, start, RATE);
    expect(short.cells).toBeLessThan(long.cells);
    expect(long.powers.subarray(0, (short.cells - 1) * BANDS)).toEqual(
      short.powers.subarray(0, (short.cells - 1) * BANDS),
    );
    const high = long.before.indexOf(Math.max(...long.before));
    expect(Math.abs(Math.log2((bandMiddles(RATE)[high] as number) / 3000))).toBeLessThan(0.25);
    // At the very beginning nothing was before.
    expect(Math.max(...sketcher.sketch(sound, 0, RATE).before)).toBe(0);
  });
});

describe('the envelope', () => {
  test('falls by 20 and 40 dB when an exponential does', () => {
    // exp(-20 t) is 20 dB down after ln(10) / 20 seconds.
    const { decay20Ms, decay40Ms, attackMs } = envelopeOf(
      noise(1, 4).map((x, i) => x * Math.exp((-20 * i) / RATE)),
      RATE,
    );
    expect(Math.abs((decay20Ms as number) - 115)).toBeLessThan(12);
    expect(Math.abs((decay40Ms as number) - 230)).toBeLessThan(20);
    expect(attackMs).toBeLessThan(12);
  });

  test('ends before it has fallen where the sound does', () => {
    expect(envelopeOf(tone(300, 0.2, 1), RATE).decay20Ms).toBeNull();
  });

  test('counts the bursts of a clap, and one for a drum of 50 Hz', () => {
    const clap = new Float32Array(RATE / 4);
    for (const at of [0, 0.012, 0.024])
      add(
        clap,
        Math.round(at * RATE),
        noise(0.02, 9).map((x, i) => x * Math.exp((-500 * i) / RATE)),
      );
    expect(envelopeOf(clap, RATE).bursts).toBe(3);
    expect(envelopeOf(tone(50, 0.4, 8), RATE).bursts).toBe(1);
  });

  test('counts changes of sign', () => {
    expect(envelopeOf(tone(1000, 0.3, 0), RATE).crossings).toBeCloseTo(2000, -2);
  });
});

describe('the root', () => {
  test.each([41.2, 65.4, 110, 440, 1046.5, 2093, 4186])('of a struck tone of %d Hz is within 2 cents', (hz) => {
    const root = rootOf(tone(hz, 0.6, 6), RATE);
    expect(Math.abs(centsBetween(root?.hz ?? 1, hz))).toBeLessThan(2);
    expect(root?.clarity).toBeGreaterThan(0.95);
  });

  test.each([55, 82, 130])('of a sweep is the %d Hz that it settles on', (hz) => {
    let phase = 0;
    const sweep = Float32Array.from({ length: RATE }, (_, i) => {
      const t = i / RATE;
      phase += (2 * Math.PI * hz * (1 + 3 * Math.exp(-45 * t))) / RATE;
      return Math.sin(phase) * Math.exp(-5 * t);
    });
    expect(Math.abs(centsBetween(rootOf(sweep, RATE)?.hz ?? 1, hz))).toBeLessThan(10);
  });

  test('is the lowest partial that sounds, where two in the ratio 2:3 repeat an octave lower', () => {
    // Principal partials of a kettledrum: Rossing 1982.
    const drum = add(tone(150, 0.8, 4), 0, tone(225, 0.8, 5), 0.7);
    expect(Math.abs(centsBetween(rootOf(drum, RATE)?.hz ?? 1, 150))).toBeLessThan(30);
  });

  test('is that of a harmonic sound though its first partial is the faintest', () => {
    const rich = add(add(tone(110, 0.6, 3), 0, tone(220, 0.6, 3), 2), 0, tone(330, 0.6, 3), 2);
    expect(Math.abs(centsBetween(rootOf(rich, RATE)?.hz ?? 1, 110))).toBeLessThan(5);
  });

  test('is none in noise, in silence, and in what is too short', () => {
    expect(rootOf(noise(0.5, 3), RATE)).toBeNull();
    expect(rootOf(new Float32Array(RATE), RATE)).toBeNull();
    expect(rootOf(tone(440, 0.05, 0), RATE)).toBeNull();
  });
});

test.each([8000, 11025, 192000])('a struck tone at %i Hz sample rate is described as at any other', (rate) => {
  const figures = new Describer(rate).describe(tone(330, 0.8, 6, rate), 0, Math.round(0.8 * rate));
  expect(Math.abs(centsBetween(figures.root?.hz ?? 1, 330))).toBeLessThan(5);
  expect(figures.peakDb).toBeCloseTo(-6, 0);
  // Its power lies in one band.
  expect(Math.abs(Math.log2(figures.brightnessHz / 330))).toBeLessThan(0.3);
  expect(Math.abs((figures.envelope.decay20Ms as number) - 384)).toBeLessThan(20);
});

test('a network gives what its formula does, and refuses other than its inputs', () => {
  const net: Network = {
    inputs: 2,
    hidden: 2,
    outputs: 2,
    inner: Float32Array.of(1, -0.5, 0.25, 2),
    innerOffset: Float32Array.of(0.125, -0.25),
    outer: Float32Array.of(1, 0.5, -2, 0.75),
    outerOffset: Float32Array.of(0, 1),
  };
  const [h0, h1] = [Math.tanh(0.125 + 0.5 * 1 - 1 * 0.25), Math.tanh(-0.25 - 0.5 * 0.5 - 1 * 2)];
  const out = runNetwork(net, [0.5, -1]);
  expect(out[0]).toBeCloseTo(h0 - 2 * h1, 12);
  expect(out[1]).toBeCloseTo(1 + 0.5 * h0 + 0.75 * h1, 12);
  expect(() => runNetwork(net, [1])).toThrow('The network takes 2 figures; it was given 1.');
  expect(Array.from(softmax([1000, 1000]))).toEqual([0.5, 0.5]);
  expect(logistic(0)).toBe(0.5);
});

test('figures of a slice come back from their bytes, levels within a quarter of a decibel', () => {
  const sound = add(
    noise(0.5, 8).map((x, i) => x * Math.exp((-12 * i) / RATE)),
    0,
    tone(180, 0.5, 9),
  );
  const figures = new Describer(RATE).describe(sound, 3000, sound.length);
  const chances = {
    main: Float64Array.of(0.5, 0.25, 0.125, 0, 0, 0, 0, 0.125, 0),
    contains: new Float64Array(9).fill(0.5),
    drum: 0.75,
  };
  const back = unpackSound(packSound(figures, chances));
  expect(back.chances).toEqual(chances);
  const { sketch, root, ...rest } = back.figures;
  expect(rest.envelope).toEqual({
    ...figures.envelope,
    crestDb: Math.fround(figures.envelope.crestDb),
    crossings: Math.fround(figures.envelope.crossings),
  });
  expect(rest.lufs).toBeCloseTo(figures.lufs, 4);
  expect(root?.hz ?? null).toEqual(figures.root ? Math.fround(figures.root.hz) : null);
  expect(sketch.cells).toBe(figures.sketch.cells);
  for (const [now, then] of [
    [sketch.powers, figures.sketch.powers],
    [sketch.before, figures.sketch.before],
  ] as const)
    now.forEach((p, i) => {
      expect(Math.abs(10 * Math.log10(p / (then[i] as number)))).toBeLessThan(0.26);
    });
});
