import { mkdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectPeaks } from '../../src/core/onset/detect';
import { FEATURES, offsetMs, PLACES, placeFeatures, surroundings } from '../../src/core/onset/placement';
import { refineStart } from '../../src/core/onset/refine';
import { seededRandom } from '../../src/core/signal/random';
import { TUNING } from './fonts';
import { type Item, makeItems } from './items';
import { normalNumbers, Parameters } from './learning';
import { isCounted } from './score';

/**
 * `npm run train`: learns the weights by which starts are placed on the tuning set, and writes them into the core. The
 * settings are those that did best when what was learnt from one of the two fonts was tried on the other.
 */
const SEEDS = [1, 2, 3, 4, 5, 6, 7, 8];
const HIDDEN = 16;
const EPOCHS = 30;
const BATCH = 64;
const RATE = 3e-3;
/** Weight decay. */
const DECAY = 1e-3;
/** Width of what counts as the right place, in ms. */
const SIGMA_MS = 0.35;
/** A found start further from the true one than this is another sound's. */
const REACH_S = 0.02;
const OUT = 'src/core/onset/placement-weights.ts';

interface Case {
  readonly features: Float64Array;
  /** Of each place, the probability that it is the start. */
  readonly wanted: Float64Array;
}

function casesOf({ samples, sampleRate, truth }: Item): Case[] {
  const starts = detectPeaks(samples, sampleRate).map(({ from, to }) => refineStart(samples, sampleRate, from, to));
  return truth.filter(isCounted).flatMap(({ seconds }) => {
    const off = (start: { frame: number }) => Math.abs(start.frame / sampleRate - seconds);
    const [first, ...rest] = starts;
    if (!first) return [];
    const nearest = rest.reduce((best, start) => (off(start) < off(best) ? start : best), first);
    if (off(nearest) > REACH_S) return [];
    const { frame, residual, residualStart } = nearest;
    const about = surroundings(samples, sampleRate, frame, residual, residualStart);
    const features = Float64Array.from(placeFeatures(about));
    const error = (frame / sampleRate - seconds) * 1000;
    const wanted = Float64Array.from({ length: PLACES }, (_, place) =>
      Math.exp(-0.5 * ((offsetMs(place) + 0.125 + error) / SIGMA_MS) ** 2),
    );
    const sum = wanted.reduce((a, b) => a + b, 0);
    return sum < 1e-3 ? [] : [{ features, wanted: wanted.map((w) => w / sum) }];
  });
}

/** Brings each feature to mean 0 and deviation 1 in place; gives both. */
function standardise(cases: readonly Case[]): { mean: Float64Array; deviation: Float64Array } {
  const mean = new Float64Array(FEATURES);
  const square = new Float64Array(FEATURES);
  const count = cases.length * PLACES;
  for (const { features } of cases) {
    for (let i = 0; i < features.length; i++) {
      const value = features[i] as number;
      mean[i % FEATURES] = (mean[i % FEATURES] as number) + value / count;
      square[i % FEATURES] = (square[i % FEATURES] as number) + value ** 2 / count;
    }
  }
  const deviation = square.map((s, f) => Math.sqrt(Math.max(0, s - (mean[f] as number) ** 2)) + 1e-6);
  for (const { features } of cases) {
    for (let i = 0; i < features.length; i++)
      features[i] = ((features[i] as number) - (mean[i % FEATURES] as number)) / (deviation[i % FEATURES] as number);
  }
  return { mean, deviation };
}

function learn(cases: readonly Case[]): { inner: Float64Array; offset: Float64Array; outer: Float64Array } {
  const random = seededRandom(1);
  const normal = normalNumbers(random);
  const inner = new Parameters(
    Float64Array.from({ length: FEATURES * HIDDEN }, () => normal() / Math.sqrt(FEATURES)),
    DECAY,
  );
  const offset = new Parameters(new Float64Array(HIDDEN), 0);
  const outer = new Parameters(
    Float64Array.from({ length: HIDDEN }, () => normal() / Math.sqrt(HIDDEN)),
    DECAY,
  );
  const order = Uint32Array.from(cases, (_, i) => i);
  let t = 0;
  for (let epoch = 0; epoch < EPOCHS; epoch++) {
    for (let i = order.length - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      [order[i], order[j]] = [order[j] as number, order[i] as number];
    }
    let loss = 0;
    for (let at = 0; at < order.length; at += BATCH) {
      const batch = order.subarray(at, at + BATCH);
      for (const c of batch) loss += descend(cases[c] as Case, inner, offset, outer, batch.length);
      t++;
      for (const parameters of [inner, offset, outer]) parameters.step(RATE * (1 - epoch / EPOCHS) + 1e-4, t);
    }
    console.log(`epoch ${epoch + 1} of ${EPOCHS}: ${(loss / cases.length).toFixed(4)} nats a start`);
  }
  return { inner: inner.values, offset: offset.values, outer: outer.values };
}

/** Adds a case's gradient; gives its cross-entropy. */
function descend(
  { features, wanted }: Case,
  inner: Parameters,
  offset: Parameters,
  outer: Parameters,
  batch: number,
): number {
  const hidden = new Float64Array(PLACES * HIDDEN);
  const scores = new Float64Array(PLACES);
  for (let p = 0; p < PLACES; p++) {
    for (let h = 0; h < HIDDEN; h++) {
      let sum = offset.values[h] as number;
      for (let f = 0; f < FEATURES; f++)
        sum += (features[p * FEATURES + f] as number) * (inner.values[f * HIDDEN + h] as number);
      const unit = Math.tanh(sum);
      hidden[p * HIDDEN + h] = unit;
      scores[p] = (scores[p] as number) + unit * (outer.values[h] as number);
    }
  }
  const most = scores.reduce((a, b) => Math.max(a, b));
  const total = scores.reduce((a, b) => a + Math.exp(b - most), 0);
  let loss = 0;
  for (let p = 0; p < PLACES; p++) {
    const logarithm = (scores[p] as number) - most - Math.log(total);
    loss -= (wanted[p] as number) * logarithm;
    const d = (Math.exp(logarithm) - (wanted[p] as number)) / batch;
    for (let h = 0; h < HIDDEN; h++) {
      const unit = hidden[p * HIDDEN + h] as number;
      outer.gradient[h] = (outer.gradient[h] as number) + d * unit;
      const back = d * (outer.values[h] as number) * (1 - unit * unit);
      offset.gradient[h] = (offset.gradient[h] as number) + back;
      for (let f = 0; f < FEATURES; f++) {
        const at = f * HIDDEN + h;
        inner.gradient[at] = (inner.gradient[at] as number) + back * (features[p * FEATURES + f] as number);
      }
    }
  }
  return loss;
}

const folder = join(tmpdir(), 'undercroft-tuning');
mkdirSync(folder, { recursive: true });
const cases = makeItems(TUNING, SEEDS, folder).flatMap(casesOf);
console.log(`${cases.length} starts.`);
const { mean, deviation } = standardise(cases);
const learnt = learn(cases);
// For features as they are: what was subtracted and divided by goes into the weights.
const inner = learnt.inner.map((w, i) => w / (deviation[Math.floor(i / HIDDEN)] as number));
const offset = learnt.offset.map((o, h) => mean.reduce((sum, m, f) => sum - m * (inner[f * HIDDEN + h] as number), o));
const rounded = (values: Float64Array) => Array.from(values, (v) => Number(v.toFixed(4)));
const table = (values: Float64Array) => `Float32Array.of(${rounded(values).join(', ')})`;
writeFileSync(
  OUT,
  `import type { PlacementWeights } from './placement';

/** Learnt by \`npm run train\` from ${cases.length} starts of the tuning set; not written by hand. */
// biome-ignore format: a table of figures
export const PLACEMENT_WEIGHTS: PlacementWeights = {
  hiddenCount: ${HIDDEN},
  inner: ${table(inner)},
  offset: ${table(offset)},
  outer: ${table(learnt.outer)},
};
`,
);
