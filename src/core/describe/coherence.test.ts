import { Kernel } from '../kernel/kernel';
import { seededRandom } from '../signal/random';
import { COHERENCE_FIGURES, clearHead, Heads } from './coherence';
import { headOf, headReach, packHead, unpackHead } from './head';
import { Sketcher } from './sketch';

const RATE = 44100;
const START = 3000;

/** Noise that dies away from `START` on. */
function stroke(seed: number, lateFrames = 0): Float32Array {
  const random = seededRandom(seed);
  const out = new Float32Array(8000);
  for (let i = START + lateFrames; i < out.length; i++)
    out[i] = (random() - 0.5) * Math.exp(-(i - START - lateFrames) / 900);
  return out;
}

function sum(a: Float32Array, b: Float32Array, gain: number): Float32Array {
  return a.map((x, i) => x + gain * (b[i] as number));
}

interface Sound {
  readonly samples: Float32Array;
  readonly rate: number;
}
const head = (samples: Float32Array, rate = RATE): Sound => ({ samples, rate });

function clear({ samples, rate }: Sound) {
  return clearHead(
    headOf(samples, START, samples.length, rate),
    new Sketcher(rate).sketch(samples, START, samples.length),
  );
}

function figures(a: Sound, b: Sound) {
  const kernel = new Kernel();
  const heads = new Heads(kernel);
  const [first, second] = [heads.lay(clear(a)), heads.lay(clear(b))];
  const out = kernel.run.reserve(4 * COHERENCE_FIGURES);
  kernel.run.coherenceFigures(first, second, out);
  const [compared, ...rest] = kernel.floats(out, COHERENCE_FIGURES);
  return {
    compared,
    bands: rest.slice(0, 8),
    mean: rest[8] as number,
    lag: rest[9] as number,
    most: rest.slice(10),
  };
}

describe('coherence of two sounds', () => {
  test('is one in every band for one sample struck softer and marked late, and tells by how much', () => {
    const { bands, lag } = figures(head(stroke(1)), head(stroke(1, 40).map((x) => 0.2 * x)));
    expect(Math.min(...bands)).toBeGreaterThan(0.97);
    // 40 frames of the 132 (3 ms) that it is looked for in.
    expect(lag).toBeCloseTo(40 / 132, 2);
  });

  test('is low for two noises', () => {
    expect(figures(head(stroke(1)), head(stroke(2))).mean).toBeLessThan(0.35);
  });

  // J. Bendat, A. Piersol, "Random data" (2010), section 6.1.3: noise of power N beside a signal of power S leaves the root of S / (S + N).
  test.each([0.5, 1, 2])('falls as theory has it where another sound of %f times the level sounds along', (gain) => {
    const means = Array.from({ length: 12 }, (_, i) => {
      const own = stroke(10 + i);
      return figures(head(own), head(sum(own, stroke(100 + i), gain))).mean;
    });
    const mean = means.reduce((a, b) => a + b, 0) / means.length;
    expect(Math.abs(mean - Math.sqrt(1 / (1 + gain ** 2)))).toBeLessThan(0.05);
  });

  test('falls in the bands of what sounds along, and in no others', () => {
    const own = stroke(5);
    // A second difference leaves what is high.
    const high = stroke(6).map((x, i, all) => x - 2 * (all[i - 1] ?? 0) + (all[i - 2] ?? 0));
    const { bands } = figures(head(own), head(sum(own, high, 0.7)));
    expect(bands[1]).toBeGreaterThan(0.98);
    expect(bands[7]).toBeLessThan(0.75);
  });

  test('can be no higher than what rings on before leaves of it', () => {
    const tone = Float32Array.from({ length: 8000 }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 4000 * i) / RATE));
    const [own, under] = [stroke(8), sum(stroke(8), tone, 1)];
    const { bands, most } = figures(head(own), head(under));
    // The tone lies in the band from 3 to 5 kHz.
    expect(most[4]).toBeLessThan(0.7);
    expect(bands[4]).toBeLessThan(0.9);
    expect(most[1]).toBeGreaterThan(0.95);
  });

  test('is not told of sounds of different sample rates, nor is silence an error', () => {
    expect(figures(head(stroke(1)), head(stroke(1), 48000))).toEqual({
      compared: 0,
      bands: new Array(8).fill(0),
      mean: 0,
      lag: 0,
      most: new Array(8).fill(0),
    });
    const silent = figures(head(new Float32Array(8000)), head(stroke(1)));
    expect([silent.mean, ...silent.bands].every(Number.isFinite)).toBe(true);
  });

  test.each([8000, 22050, 48000, 96000, 192000])('is told at %i Hz too', (rate) => {
    const { bands, mean } = figures(head(stroke(1), rate), head(stroke(1), rate));
    expect(mean).toBeGreaterThan(0.99);
    // Bands over half the rate are empty.
    expect(bands[0]).toBeGreaterThan(0.99);
  });
});

describe('the head of a sound', () => {
  test('is kept in a byte a sample, the noise of which lies 30 dB under it', () => {
    const whole = headOf(stroke(3), START, 8000, RATE);
    const kept = unpackHead(packHead(whole), RATE);
    let [signal, noise] = [0, 0];
    for (const [i, x] of whole.samples.entries()) {
      signal += x ** 2;
      noise += (x - (kept.samples[i] as number)) ** 2;
    }
    // B. Smith, "Instantaneous companding of quantized signals", Bell System Technical Journal 36, 1957: some 38 dB for 8 bits.
    expect(10 * Math.log10(signal / noise)).toBeGreaterThan(30);
  });

  test('of a sound at the edge of a recording is nought where there is none', () => {
    const { before, after } = headReach(RATE);
    const short = headOf(
      Float32Array.from({ length: 300 }, () => 0.5),
      0,
      300,
      RATE,
    );
    expect(short.samples).toHaveLength(before + after);
    expect(short.samples.subarray(before + 300).every((x) => x === 0)).toBe(true);
  });
});
