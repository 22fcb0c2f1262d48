import { writeFileSync } from 'node:fs';
import { FEATURES, offsetMs, PLACES } from '../../src/core/onset/placement';
import { seededRandom } from '../../src/core/signal/random';
import { normalNumbers, Parameters } from './learning';

/** Learning of the conditional logits that tell which of `PLACES` places is a start; see `core/onset/placement.ts`. */

const HIDDEN = 16;
const EPOCHS = 30;
const BATCH = 64;
const RATE = 3e-3;
/** Weight decay. */
const DECAY = 1e-3;
/** Width of what counts as the right place, in ms. */
const SIGMA_MS = 0.35;

export interface Case {
  readonly features: Float64Array;
  /** Of each place, the probability that it is the start. */
  readonly wanted: Float64Array;
}

/** A case whose true start lies `errorMs` before the start that the features are about; null where that is out of reach. */
export function caseOf(features: ArrayLike<number>, errorMs: number, firstPlace = 0): Case | null {
  const wanted = Float64Array.from({ length: PLACES }, (_, place) =>
    place < firstPlace ? 0 : Math.exp(-0.5 * ((offsetMs(place) + 0.125 + errorMs) / SIGMA_MS) ** 2),
  );
  const sum = wanted.reduce((a, b) => a + b, 0);
  return sum < 1e-3 ? null : { features: Float64Array.from(features), wanted: wanted.map((w) => w / sum) };
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

interface Learnt {
  readonly inner: Float64Array;
  readonly offset: Float64Array;
  readonly outer: Float64Array;
}

/** Learns from cases, over the places from `firstPlace` on. */
export function learn(cases: readonly Case[], firstPlace = 0): Learnt {
  const { mean, deviation } = standardise(cases);
  const learnt = descendAll(cases, firstPlace);
  // For features as they are: what was subtracted and divided by goes into the weights.
  const inner = learnt.inner.map((w, i) => w / (deviation[Math.floor(i / HIDDEN)] as number));
  const offset = learnt.offset.map((o, h) =>
    mean.reduce((sum, m, f) => sum - m * (inner[f * HIDDEN + h] as number), o),
  );
  return { inner, offset, outer: learnt.outer };
}

function descendAll(cases: readonly Case[], firstPlace: number): Learnt {
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
      for (const c of batch) loss += descend(cases[c] as Case, firstPlace, inner, offset, outer, batch.length);
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
  firstPlace: number,
  inner: Parameters,
  offset: Parameters,
  outer: Parameters,
  batch: number,
): number {
  const hidden = new Float64Array(PLACES * HIDDEN);
  const scores = new Float64Array(PLACES).fill(Number.NEGATIVE_INFINITY);
  for (let p = firstPlace; p < PLACES; p++) {
    scores[p] = 0;
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
  for (let p = firstPlace; p < PLACES; p++) {
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

/** Writes weights as a module of the core. */
export function writeWeights(path: string, constant: string, told: string, { inner, offset, outer }: Learnt): void {
  const rounded = (values: Float64Array) => Array.from(values, (v) => Number(v.toFixed(4)));
  const table = (values: Float64Array) => `Float32Array.of(${rounded(values).join(', ')})`;
  writeFileSync(
    path,
    `import type { PlacementWeights } from './placement';

/** ${told}; not written by hand. */
// biome-ignore format: a table of figures
export const ${constant}: PlacementWeights = {
  hiddenCount: ${HIDDEN},
  inner: ${table(inner)},
  offset: ${table(offset)},
  outer: ${table(outer)},
};
`,
  );
}
