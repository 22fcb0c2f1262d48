import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { logistic, type Network } from '../../src/core/describe/network';
import { seededRandom } from '../../src/core/signal/random';

/** Parameters with the running means of Adam (D. Kingma, J. Ba, "Adam: a method for stochastic optimization", ICLR 2015). */
export class Parameters {
  readonly gradient: Float64Array;
  private readonly first: Float64Array;
  private readonly second: Float64Array;

  constructor(
    readonly values: Float64Array,
    private readonly decay: number,
  ) {
    this.gradient = new Float64Array(values.length);
    this.first = new Float64Array(values.length);
    this.second = new Float64Array(values.length);
  }

  step(rate: number, t: number): void {
    const { values, gradient, first, second } = this;
    for (let i = 0; i < values.length; i++) {
      const g = (gradient[i] as number) + this.decay * (values[i] as number);
      first[i] = 0.9 * (first[i] as number) + 0.1 * g;
      second[i] = 0.999 * (second[i] as number) + 0.001 * g * g;
      const m = (first[i] as number) / (1 - 0.9 ** t);
      const v = (second[i] as number) / (1 - 0.999 ** t);
      values[i] = (values[i] as number) - (rate * m) / (Math.sqrt(v) + 1e-8);
    }
    gradient.fill(0);
  }
}

export function normalNumbers(random: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

export function shuffled(count: number, random: () => number): Uint32Array {
  const order = Uint32Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j] as number, order[i] as number];
  }
  return order;
}

export interface Lesson {
  readonly hidden: number;
  readonly outputs: number;
  readonly epochs: number;
  readonly rate: number;
  readonly decay: number;
  readonly batch: number;
  readonly seed: number;
}

/**
 * Learns a network of one hidden layer. `slope` is given a case and the outputs for it, writes the loss's derivative by each
 * output, and gives the loss. `vary` may change the inputs of a case, another way each time, so that what does not matter is not learnt. Inputs are brought to mean 0 and deviation 1 while learning; the weights are for inputs as they are.
 */
export function learnNetwork(
  cases: readonly Float32Array[],
  { hidden, outputs, epochs, rate, decay, batch, seed }: Lesson,
  slope: (index: number, out: Float64Array, derivative: Float64Array) => number,
  vary?: (values: Float64Array, random: () => number) => void,
): Network {
  const inputs = cases[0]?.length ?? 0;
  const mean = new Float64Array(inputs);
  const deviation = new Float64Array(inputs);
  for (const values of cases)
    for (let i = 0; i < inputs; i++) mean[i] = (mean[i] as number) + (values[i] as number) / cases.length;
  for (const values of cases)
    for (let i = 0; i < inputs; i++)
      deviation[i] = (deviation[i] as number) + ((values[i] as number) - (mean[i] as number)) ** 2 / cases.length;
  for (let i = 0; i < inputs; i++) deviation[i] = Math.sqrt(deviation[i] as number) + 1e-3;
  const random = seededRandom(seed);
  const normal = normalNumbers(random);
  const inner = new Parameters(
    Float64Array.from({ length: inputs * hidden }, () => normal() / Math.sqrt(inputs)),
    decay,
  );
  const innerOffset = new Parameters(new Float64Array(hidden), 0);
  const outer = new Parameters(
    Float64Array.from({ length: hidden * outputs }, () => normal() / Math.sqrt(hidden)),
    decay,
  );
  const outerOffset = new Parameters(new Float64Array(outputs), 0);
  const values = new Float64Array(inputs);
  const unit = new Float64Array(hidden);
  const out = new Float64Array(outputs);
  const derivative = new Float64Array(outputs);
  let t = 0;
  for (let epoch = 0; epoch < epochs; epoch++) {
    const order = shuffled(cases.length, random);
    let loss = 0;
    for (let at = 0; at < order.length; at += batch) {
      const some = order.subarray(at, at + batch);
      for (const index of some) {
        values.set(cases[index] as Float32Array);
        vary?.(values, random);
        for (let i = 0; i < inputs; i++)
          values[i] = ((values[i] as number) - (mean[i] as number)) / (deviation[i] as number);
        unit.set(innerOffset.values);
        for (let i = 0; i < inputs; i++) addScaled(unit, inner.values, i * hidden, values[i] as number);
        out.set(outerOffset.values);
        for (let h = 0; h < hidden; h++) {
          unit[h] = Math.tanh(unit[h] as number);
          for (let o = 0; o < outputs; o++)
            out[o] = (out[o] as number) + (unit[h] as number) * (outer.values[h * outputs + o] as number);
        }
        derivative.fill(0);
        loss += slope(index, out, derivative);
        for (let h = 0; h < hidden; h++) {
          let back = 0;
          for (let o = 0; o < outputs; o++) {
            const d = (derivative[o] as number) / some.length;
            back += d * (outer.values[h * outputs + o] as number);
            outer.gradient[h * outputs + o] = (outer.gradient[h * outputs + o] as number) + d * (unit[h] as number);
          }
          unit[h] = back * (1 - (unit[h] as number) ** 2);
          innerOffset.gradient[h] = (innerOffset.gradient[h] as number) + (unit[h] as number);
        }
        for (let o = 0; o < outputs; o++)
          outerOffset.gradient[o] = (outerOffset.gradient[o] as number) + (derivative[o] as number) / some.length;
        for (let i = 0; i < inputs; i++) addTo(inner.gradient, i * hidden, unit, values[i] as number);
      }
      t++;
      for (const p of [inner, innerOffset, outer, outerOffset]) p.step(rate * (1 - epoch / epochs) + rate / 30, t);
    }
    if (epoch % 5 === 4 || epoch === epochs - 1)
      console.log(`  epoch ${epoch + 1} of ${epochs}: loss ${(loss / cases.length).toFixed(4)}`);
  }
  const weights = inner.values.map((w, i) => w / (deviation[Math.floor(i / hidden)] as number));
  const offset = innerOffset.values.map((o, h) =>
    mean.reduce((sum, m, i) => sum - m * (weights[i * hidden + h] as number), o),
  );
  return {
    inputs,
    hidden,
    outputs,
    inner: Float32Array.from(weights),
    innerOffset: Float32Array.from(offset),
    outer: Float32Array.from(outer.values),
    outerOffset: Float32Array.from(outerOffset.values),
  };
}

/** Adds a row of a table, scaled, to a vector as long as the row. */
function addScaled(vector: Float64Array, table: Float64Array, row: number, scale: number): void {
  for (let k = 0; k < vector.length; k++) vector[k] = (vector[k] as number) + scale * (table[row + k] as number);
}

/** Adds a vector, scaled, to a row of a table. */
function addTo(table: Float64Array, row: number, vector: Float64Array, scale: number): void {
  for (let k = 0; k < vector.length; k++) table[row + k] = (table[row + k] as number) + scale * (vector[k] as number);
}

/** Source of a module that holds a network as a table. */
export function networkModule(name: string, net: Network, learntFrom: string): string {
  const table = (values: Float32Array) =>
    `table('${Buffer.from(values.buffer, values.byteOffset, values.byteLength).toString('base64')}')`;
  return `import { type Network, table } from './network';

/** ${learntFrom}; not written by hand. */
// biome-ignore format: a table of figures
export const ${name}: Network = {
  inputs: ${net.inputs},
  hidden: ${net.hidden},
  outputs: ${net.outputs},
  inner: ${table(net.inner)},
  innerOffset: ${table(net.innerOffset)},
  outer: ${table(net.outer)},
  outerOffset: ${table(net.outerOffset)},
};
`;
}

/** Networks that share inputs and outputs as one whose outputs are the means of theirs. */
export function together(nets: readonly Network[]): Network {
  const first = nets[0] as Network;
  const { inputs, outputs } = first;
  const hidden = nets.reduce((sum, net) => sum + net.hidden, 0);
  const rows = Array.from({ length: inputs }, (_, i) =>
    nets.flatMap((net) => Array.from(net.inner.subarray(i * net.hidden, (i + 1) * net.hidden))),
  );
  const mean = (values: number) => values / nets.length;
  return {
    inputs,
    hidden,
    outputs,
    inner: Float32Array.from(rows.flat()),
    innerOffset: Float32Array.from(nets.flatMap((net) => Array.from(net.innerOffset))),
    outer: Float32Array.from(nets.flatMap((net) => Array.from(net.outer, mean))),
    outerOffset: Float32Array.from({ length: outputs }, (_, o) =>
      nets.reduce((sum, net) => sum + mean(net.outerOffset[o] as number), 0),
    ),
  };
}

/** For a network that tells one thing from another by one output: the loss, and its derivative. A little doubt is left to every label, so that confidence stays honest. */
export function lossOfOne(is: boolean, out: Float64Array, derivative: Float64Array): number {
  const chance = logistic(out[0] as number);
  derivative[0] = chance - (is ? 0.98 : 0.02);
  return -Math.log((is ? chance : 1 - chance) + 1e-12);
}

/** What a network tells. */
type Told = 'families' | 'drums';

/** Keeps a network that was learnt without one lineage, for what is learnt from its answers: those on what it has not learnt from. */
export function keepWithout(lineage: string, told: Told, net: Network, folder: string): void {
  writeFileSync(join(folder, `${told}-told-without-${lineage}`), serialize(net));
}

export function learntWithout(lineage: string, told: Told, folder: string): Network {
  const path = join(folder, `${told}-told-without-${lineage}`);
  if (!existsSync(path)) throw new Error(`${path} is missing: npm run train-${told} makes it.`);
  return deserialize(readFileSync(path)) as Network;
}
