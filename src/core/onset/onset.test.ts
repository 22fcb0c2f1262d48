import { seededRandom } from '../signal/random';
import { detectOnsets } from './detect';
import { detectLong } from './long';
import { whiten } from './lpc';
import { noveltyLayout } from './novelty';
import { pickPeaks } from './pick';
import { refineStart } from './refine';
import { contiguousRegions, selectOnsets, slicesFromOnsets, strengthThreshold } from './select';
import { SPLIT_INITIAL } from './split';

const RATE = 44100;

/** Bursts of decaying noise at the given times, over a steady tone if wanted; 0.42 s is the soft grace note of a flam. */
function bursts(seconds: number, at: readonly number[], tone = 0, rate = RATE): Float32Array {
  const random = seededRandom(99);
  const out = Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => tone * Math.sin((2 * Math.PI * 220 * i) / rate),
  );
  for (const time of at) {
    const start = Math.round(time * rate);
    for (let i = 0; i < 0.2 * rate && start + i < out.length; i++) {
      out[start + i] =
        (out[start + i] as number) + (time === 0.42 ? 0.25 : 0.6) * (random() * 2 - 1) * Math.exp((-i / rate) * 25);
    }
  }
  return out;
}

const found = (samples: Float32Array, rate = RATE) =>
  selectOnsets(detectOnsets(samples, rate), SPLIT_INITIAL, rate).map((c) => c.frame / rate);

describe('detection', () => {
  const times = [0.1, 0.42, 0.45, 0.9, 1.3];
  test('bursts are found to within a millisecond, two of them 30 ms apart', () => {
    const onsets = found(bursts(1.8, times));
    expect(onsets).toHaveLength(times.length);
    for (const [i, time] of times.entries()) expect(Math.abs((onsets[i] as number) - time)).toBeLessThan(0.001);
  });

  test('so they are over a steady tone, which itself is marked once at most', () => {
    const onsets = found(bursts(1.8, times, 0.2)).filter((t) => t > 0.05);
    expect(onsets).toHaveLength(times.length);
    for (const [i, time] of times.entries()) expect(Math.abs((onsets[i] as number) - time)).toBeLessThan(0.0015);
  });

  test.each([8000, 22050, 48000, 96000, 192000])('at %i Hz', (rate) => {
    const onsets = found(bursts(1.8, times, 0, rate), rate);
    expect(onsets).toHaveLength(times.length);
    for (const [i, time] of times.entries()) expect(Math.abs((onsets[i] as number) - time)).toBeLessThan(0.002);
  });

  test('a long low drum with a beating tail gets one mark', () => {
    const tom = Float32Array.from({ length: 2 * RATE }, (_, i) => {
      const t = i / RATE - 0.2;
      return t < 0
        ? 0
        : 0.8 * Math.exp(-t * 2.2) * (0.7 * Math.sin(2 * Math.PI * 61 * t) + 0.3 * Math.sin(2 * Math.PI * 66.5 * t));
    });
    expect(found(tom)).toHaveLength(1);
  });

  test('silence, a single sample and constant noise hold no onset to speak of', () => {
    expect(detectOnsets(new Float32Array(RATE), RATE)).toEqual([]);
    expect(detectOnsets(Float32Array.of(0.5), RATE).length).toBeLessThanOrEqual(1);
    const random = seededRandom(5);
    const noise = Float32Array.from({ length: 3 * RATE }, () => 0.1 * (random() * 2 - 1));
    expect(found(noise).filter((t) => t > 0.05)).toEqual([]);
  });

  test('a long recording analysed in parts gives the same marks as in one piece', () => {
    const random = seededRandom(17);
    const at = Array.from({ length: 260 }, (_, i) => 0.3 + i * 0.5 + 0.1 * random());
    const samples = bursts(131, at, 0, 8000);
    const whole = detectOnsets(samples, 8000).filter((c) => c.strength > 0.3);
    const shares: number[] = [];
    const readMono = (start: number, end: number) => samples.subarray(start, end);
    const listened = { readMono, totalFrames: samples.length, sampleRate: 8000, reference: 0.6 };
    const parts = detectLong(listened, (p) => shares.push(p)).filter((c) => c.strength > 0.3);
    expect(parts.length).toBe(whole.length);
    for (const [i, c] of parts.entries())
      expect(Math.abs(c.frame - (whole[i]?.frame as number))).toBeLessThanOrEqual(8);
    expect(shares.at(-1)).toBe(1);
  });
});

describe('choosing among candidates', () => {
  const candidates = [0.95, 0.3, 0.04, 0.6].map((strength, i) => ({
    frame: i * 1000,
    strength,
    decayEnd: i * 1000 + 600,
    peak: 0.5,
    low: strength,
    mid: 0,
    high: 0,
    click: false,
  }));
  test('more sensitivity never loses a mark', () => {
    let before = 0;
    for (let s = 0; s <= 1; s += 0.05) {
      const now = selectOnsets(candidates, { sensitivity: s, spacingMs: 5 }, RATE).length;
      expect(now).toBeGreaterThanOrEqual(before);
      before = now;
    }
    expect(before).toBe(4);
    expect(strengthThreshold(0)).toBeCloseTo(0.9);
  });

  test('of two closer than the spacing the stronger stays', () => {
    const kept = selectOnsets(candidates, { sensitivity: 1, spacingMs: 30 }, RATE);
    expect(kept.map((c) => c.frame)).toEqual([0, 3000]);
  });

  test('a slice ends at the next onset or where its sound has died away, whichever is first', () => {
    const regions = slicesFromOnsets(
      [
        { frame: 0, strength: 1, decayEnd: 900, peak: 1, low: 0, mid: 0, high: 0, click: false },
        { frame: 500, strength: 1, decayEnd: 700, peak: 1, low: 0, mid: 0, high: 0, click: false },
      ],
      1000,
    );
    expect(regions).toEqual([
      { startFrame: 0, endFrame: 500 },
      { startFrame: 500, endFrame: 700 },
    ]);
  });

  test('contiguous regions cover everything once, rests and all', () => {
    const regions = contiguousRegions([30, 10, 10, 100, 0], 100);
    expect(regions).toEqual([
      { startFrame: 0, endFrame: 10 },
      { startFrame: 10, endFrame: 30 },
      { startFrame: 30, endFrame: 100 },
    ]);
  });
});

describe('parts of the method', () => {
  test('linear prediction of an autoregressive process gives its coefficients', () => {
    const random = seededRandom(1);
    const x = new Float32Array(60000);
    for (let n = 2; n < x.length; n++)
      x[n] = 1.2 * (x[n - 1] as number) - 0.6 * (x[n - 2] as number) + 0.1 * (random() - 0.5);
    whiten(x, { start: 0, learnEnd: x.length, end: x.length }, 2, ({ coefficients, residual }) => {
      expect(coefficients[0]).toBeCloseTo(1.2, 1);
      expect(coefficients[1]).toBeCloseTo(-0.6, 1);
      expect(Math.max(...residual.map(Math.abs))).toBeLessThan(0.07);
    });
    expect.assertions(3);
  });

  test('a start is placed on the first sample of a burst under a loud tone', () => {
    const samples = bursts(1, [0.5], 0.5);
    const at = Math.round(0.5 * RATE);
    expect(Math.abs(refineStart(samples, RATE, at - 800, at + 300).frame - at)).toBeLessThan(12);
  });

  test('peaks stand out from their surroundings', () => {
    const curve = new Float32Array(100);
    curve[20] = 1;
    curve[22] = 0.9;
    curve[60] = 0.5;
    const peaks = pickPeaks(curve, { reach: 3, before: 20, after: 14, least: 0.1 });
    expect(peaks.map((p) => p.hop)).toEqual([20, 60]);
  });

  test('bands rise without gaps and weigh to one', () => {
    const { bands } = noveltyLayout(48000);
    expect(bands.length).toBeGreaterThan(50);
    for (const [i, band] of bands.entries()) {
      expect(band.weights.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
      if (i > 0) expect(band.centreHz).toBeGreaterThan(bands[i - 1]?.centreHz as number);
    }
  });
});
