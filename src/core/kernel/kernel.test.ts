import { execFileSync } from 'node:child_process';
import FFT from 'fft.js';
import { energySteps, loudestOf } from '../onset/energy';
import { whiten } from '../onset/lpc';
import { novelty, noveltyLayout } from '../onset/novelty';
import { PLACES, placeFeatures, placeScores, surroundings } from '../onset/placement';
import { PLACEMENT_WEIGHTS } from '../onset/placement-weights';
import { seededRandom } from '../signal/random';
import { hann } from '../signal/window';
import { threadKernel } from './kernel';
import { KERNEL_WASM } from './kernel-wasm';

const RATE = 44100;

/** Strokes of noise over a falling tone, with silence between. */
function strokes(seconds: number, rate = RATE): Float32Array {
  const random = seededRandom(7);
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    const t = (i / rate) % 0.31;
    const tone = 0.2 * Math.sin(2 * Math.PI * 180 * t) * Math.exp(-6 * t);
    return t < 0.27 ? tone + (random() - 0.5) * Math.exp(-30 * t) : 0;
  });
}

/** The novelty curve in doubles by a transform of a general library, as novelty.ts describes it and nothing else. */
function plainNovelty(samples: Float32Array, rate: number, reference: number): Float64Array {
  const { windowSize, hop, lag, bands } = noveltyLayout(rate);
  const window = hann(windowSize);
  const fft = new FFT(windowSize);
  const levels: number[][] = [];
  const hops = Math.ceil(samples.length / hop) + 1;
  const out = new Float64Array(hops);
  for (let n = 0; n < hops; n++) {
    const input = new Float64Array(2 * windowSize);
    for (let i = 0; i < windowSize; i++)
      input[2 * i] = (window[i] as number) * (samples[n * hop - windowSize / 2 + i] ?? 0);
    const spectrum = new Float64Array(2 * windowSize);
    fft.transform(spectrum, input);
    const magnitude = (k: number) =>
      (2 * Math.hypot(spectrum[2 * k] as number, spectrum[2 * k + 1] as number)) / windowSize;
    const row = bands.map(({ firstBin, weights }) => {
      const sum = weights.reduce((total, w, i) => total + w * magnitude(firstBin + i), 0);
      return Math.log10(1 + (2000 / reference) * sum);
    });
    levels.push(row);
    if (n * hop + windowSize / 2 > samples.length) continue;
    const before = levels[n - lag] ?? row.map(() => 0);
    const rises = row.map((now, b) =>
      Math.max(0, now - Math.max(before[b] as number, before[b - 1] ?? 0, before[b + 1] ?? 0)),
    );
    out[n] = rises.reduce((a, b) => a + b, 0) / bands.length;
  }
  return out;
}

it('is the module that its source compiles to', () => {
  const compiled = execFileSync(process.execPath, [
    '--input-type=module',
    '-e',
    "const { compileKernel } = await import('./scripts/kernel.mjs'); process.stdout.write(compileKernel().toString('base64'));",
  ]).toString();
  expect(compiled === KERNEL_WASM).toBe(true);
}, 60_000);

it.each([44100, 22050, 8000, 96000])('novelty at %i Hz is what a plain transform in doubles gives', (rate) => {
  const samples = strokes(1.3, rate);
  const ours = novelty(samples, rate, 0.5).all;
  const plain = plainNovelty(samples, rate, 0.5);
  expect(ours.length).toBe(plain.length);
  const worst = plain.reduce((most, value, n) => Math.max(most, Math.abs(value - (ours[n] as number))), 0);
  expect(Math.max(...plain)).toBeGreaterThan(0.3);
  expect(worst).toBeLessThan(1e-4);
});

it('novelty is the same across the pieces that a long sound is worked out in', () => {
  const long = strokes(50);
  const { all, hop } = novelty(long, RATE, 0.5);
  // The 50 s take three pieces; about each seam a part of the sound alone must give the same.
  for (const seam of [4096, 8192]) {
    const from = (seam - 100) * hop;
    const part = novelty(long.slice(from, from + 200 * hop), RATE, 0.5).all;
    for (let n = 20; n < 180; n++) expect(part[n]).toBeCloseTo(all[seam - 100 + n] as number, 5);
  }
});

it('predicts with what the normal equations are solved by, and leaves what they leave', () => {
  const samples = strokes(0.2);
  const [start, end, order] = [1000, 2323, 20];
  const { a, residual, energy } = whiten(
    samples,
    { start, learnEnd: end, end },
    order,
    ({ coefficients, ...whitened }) => ({
      a: coefficients.slice(),
      residual: whitened.residual.slice(),
      energy: whitened.energy.slice(),
    }),
  );
  for (const n of [0, 1, 5, 700, end - start - 1]) {
    let error = samples[start + n] as number;
    for (let k = 0; k < order; k++) error -= (a[k] as number) * (samples[start + n - 1 - k] ?? 0);
    expect(residual[n]).toBeCloseTo(error, 12);
    const squares = residual.subarray(0, n).reduce((sum, x) => sum + x * x, 0);
    expect(energy[n]).toBeCloseTo(squares, 12);
  }
  // J. Makhoul 1975, equation 15: the coefficients solve sum(a[k] r[i - k]) = r[i].
  const r = (lag: number) => {
    let sum = 0;
    for (let i = start + lag; i < end; i++) sum += (samples[i] as number) * (samples[i - lag] as number);
    return sum;
  };
  for (let i = 1; i <= order; i++) {
    const left = Array.from(a).reduce((sum, value, k) => sum + value * r(Math.abs(i - 1 - k)), 0);
    expect(Math.abs(left - r(i))).toBeLessThan(1e-5 * r(0));
  }
});

it('tells powers of steps as sums of squares', () => {
  const samples = strokes(11.003);
  const { step, power } = energySteps(samples, RATE);
  expect(step).toBe(88);
  expect(power.length).toBe(Math.ceil(samples.length / step));
  const sum = (from: number, to: number) => samples.subarray(from, to).reduce((total, x) => total + x * x, 0);
  for (const n of [0, 3, 4999, 5000, power.length - 1]) {
    const to = Math.min(samples.length, (n + 1) * step);
    expect(power[n]).toBeCloseTo(sum(n * step, to) / (to - n * step), 7);
  }
});

it('weighs places as the network in plain arithmetic does', () => {
  const samples = strokes(0.4);
  const frame = Math.round(0.31 * RATE) + 40;
  const from = frame - 2000;
  const residual = whiten(samples, { start: from, learnEnd: frame - 600, end: frame + 900 }, 20, (whitened) =>
    whitened.residual.slice(),
  );
  const about = surroundings(samples, RATE, frame, residual, from);
  const features = placeFeatures(about);
  const scores = placeScores(about, PLACEMENT_WEIGHTS);
  const { hiddenCount, inner, offset, outer } = PLACEMENT_WEIGHTS;
  const count = features.length / PLACES;
  for (let place = 0; place < PLACES; place++) {
    const score = outer.reduce((sum, out, h) => {
      let unit = offset[h] as number;
      for (let f = 0; f < count; f++)
        unit += (features[place * count + f] as number) * (inner[f * hiddenCount + h] as number);
      return sum + out * Math.tanh(unit);
    }, 0);
    expect(scores[place]).toBeCloseTo(score, 4);
  }
  // The first figure of the whitened signal: over half a millisecond, what comes after against what was before.
  const power = (k: number) => about.powers[k] as number;
  for (const place of [0, 17, 40, 63]) {
    const k = 24 + place;
    const rise =
      Math.log10((power(k) + power(k + 1)) / 2 + 1e-12) - Math.log10((power(k - 1) + power(k - 2)) / 2 + 1e-12);
    expect(features[place * count]).toBeCloseTo(Math.max(-6, Math.min(6, rise)), 4);
  }
});

it('correlates floats as plain sums do', () => {
  const samples = strokes(0.05).subarray(0, 1003);
  const kernel = threadKernel();
  const sums = kernel.within(() => {
    const out = kernel.run.reserve(8 * 101);
    kernel.run.correlations(kernel.lay(samples), samples.length, 100, out);
    return kernel.doubles(out, 101).slice();
  });
  for (const lag of [0, 1, 7, 100]) {
    const plain = samples.reduce((sum, x, i) => sum + (i < lag ? 0 : x * (samples[i - lag] as number)), 0);
    expect(Math.abs((sums[lag] as number) - plain)).toBeLessThan(1e-5 * (sums[0] as number));
  }
});

it('finds the loudest sample and what is sudden as plain loops do', () => {
  const samples = strokes(0.4);
  const kernel = threadKernel();
  const at = (i: number) => samples[i] as number;
  const second = (i: number) => at(i + 1) - 2 * at(i) + at(i - 1);
  for (const [from, to] of [
    [1, 3],
    [500, 507],
    [13000, 14001],
  ] as const) {
    const frames = Array.from({ length: to - from }, (_, i) => from + i);
    expect(loudestOf(samples.subarray(from, to))).toBe(Math.max(...frames.map((i) => Math.abs(at(i)))));
    kernel.within(() => {
      const laid = kernel.lay(samples);
      expect(kernel.run.plainEnergy(laid, from, to)).toBeCloseTo(
        frames.reduce((sum, i) => sum + at(i) ** 2, 0),
        10,
      );
      expect(kernel.run.suddenEnergy(laid, from, to)).toBeCloseTo(
        frames.reduce((sum, i) => sum + second(i) ** 2, 0),
        10,
      );
      const most = frames.reduce((best, i) => (Math.abs(second(i)) > Math.abs(second(best)) ? i : best));
      expect(kernel.run.mostSudden(laid, from, to)).toBe(most);
    });
  }
  expect(loudestOf(new Float32Array(0))).toBe(0);
});

it('holds sketches against one another as is written out plainly', () => {
  const random = seededRandom(4);
  const [cells, bands] = [13, 24];
  const row = () => {
    const values = new Float32Array(2 * cells * bands);
    const own = new Int32Array(values.buffer, 4 * cells * bands);
    for (let i = 0; i < cells * bands; i++) {
      values[i] = 6 * random();
      own[i] = random() < 0.7 ? -1 : 0;
    }
    return { values, own };
  };
  const [a, b] = [row(), row()];
  const compared = 9;
  const starts = [0, 1, 3, 6, 10];
  const zones = Array.from({ length: 30 }, () => ({ sum: 0, weight: 0 }));
  let [all, known, dot, squareA, squareB] = [0, 0, 0, 0, 0];
  for (let i = 0; i < compared * bands; i++) {
    const [x, y] = [a.values[i] as number, b.values[i] as number];
    const heard = Math.max(x, y);
    all += heard;
    if (a.own[i] === 0 || b.own[i] === 0) continue;
    known += heard;
    const cell = Math.floor(i / bands);
    const zone = zones[6 * starts.findLastIndex((s) => s <= cell) + Math.floor((i % bands) / 4)];
    if (zone) {
      zone.weight += heard;
      zone.sum += heard * Math.min(2.5, Math.abs(x - y));
    }
    dot += x * y;
    squareA += x * x;
    squareB += y * y;
  }
  const plain = [
    ...zones.map(({ sum, weight }) => (weight > 0 ? sum / weight : 0)),
    known / all,
    dot / Math.sqrt(squareA * squareB),
  ];
  const kernel = threadKernel();
  const told = kernel.within(() => {
    const out = kernel.run.reserve(4 * plain.length);
    kernel.run.zoneDifferences(kernel.lay(a.values), kernel.lay(b.values), compared, out);
    return Array.from(kernel.floats(out, plain.length));
  });
  for (const [i, value] of plain.entries()) expect(told[i]).toBeCloseTo(value, 5);
});

test('figures of two sounds differ as they do one by one, and where a sound has no root, it does not matter', () => {
  const families = 9;
  const random = seededRandom(12);
  const sound = (rooted: number) => {
    const [peak, decay, length, crossings, brightness, root] = Array.from({ length: 6 }, () => 3 * random());
    const chances = Array.from({ length: 2 * families }, random);
    return Float32Array.of(...([peak, decay, length, crossings, brightness, root, rooted] as number[]), ...chances);
  };
  const kernel = threadKernel();
  for (const [rootedA, rootedB] of [
    [1, 1],
    [1, 0],
  ] as const) {
    const [a, b] = [sound(rootedA), sound(rootedB)];
    const figure = (row: Float32Array, place: number) => row[place] as number;
    const apart = (place: number) => Math.abs(figure(a, place) - figure(b, place));
    const shorter = Math.min(figure(a, 2), figure(b, 2));
    const places = Array.from({ length: families }, (_, f) => 7 + f);
    const plain = [
      Math.min(30, apart(0)) / 10,
      Math.abs(Math.min(figure(a, 1), shorter) - Math.min(figure(b, 1), shorter)),
      apart(3),
      apart(4),
      rootedB ? Math.min(1, apart(5)) : 0.3,
      places.reduce((sum, place) => sum + figure(a, place) * figure(b, place), 0),
      ...places.map((place) => apart(place + families)),
    ];
    const told = kernel.within(() => {
      const out = kernel.run.reserve(4 * plain.length);
      kernel.run.figureDifferences(kernel.lay(a), kernel.lay(b), families, out);
      return Array.from(kernel.floats(out, plain.length));
    });
    for (const [i, value] of plain.entries()) expect(told[i]).toBeCloseTo(value, 5);
  }
});

test('sums of squares between bounds that fall between floats are those of plain loops', () => {
  const samples = strokes(0.05).subarray(0, 1003);
  const step = 44.1;
  const count = Math.floor(samples.length / step);
  const kernel = threadKernel();
  const told = kernel.within(() => {
    const out = kernel.run.reserve(8 * count);
    kernel.run.stepEnergies(kernel.lay(samples), samples.length, step, count, out);
    return kernel.doubles(out, count).slice();
  });
  for (const [n, sum] of told.entries()) {
    const span = samples.subarray(Math.floor(n * step), Math.floor((n + 1) * step));
    expect(sum).toBeCloseTo(
      span.reduce((all, x) => all + x * x, 0),
      10,
    );
  }
});

test.each([1003, 4096])('the power of one line of a spectrum of %i floats is that of a plain sum', (length) => {
  const samples = strokes(0.2).subarray(0, length);
  const lag = 97.3;
  let [re, im] = [0, 0];
  for (const [i, x] of samples.entries()) {
    const windowed = x * (1 - Math.cos((2 * Math.PI * i) / length));
    re += windowed * Math.cos((2 * Math.PI * i) / lag);
    im += windowed * Math.sin((2 * Math.PI * i) / lag);
  }
  const kernel = threadKernel();
  const told = kernel.within(() => kernel.run.linePower(kernel.lay(samples), length, lag));
  expect(Math.abs(told / (re * re + im * im) - 1)).toBeLessThan(1e-8);
});
