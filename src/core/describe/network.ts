import { fromBase64 } from '../bytes';

/** A network with one hidden layer, trained by a program of test/accuracy and stored in the core as a table. */
export interface Network {
  readonly inputs: number;
  readonly hidden: number;
  readonly outputs: number;
  /** `inputs` by `hidden`, row by row, for unscaled inputs; then the hidden units' biases. */
  readonly inner: Float32Array;
  readonly innerOffset: Float32Array;
  /** `hidden` by `outputs`, row by row; then the outputs' biases. */
  readonly outer: Float32Array;
  readonly outerOffset: Float32Array;
}

const turnedTables = new WeakMap<Network, Float32Array>();

/** A network's inner table, `hidden` by `inputs`, so that one unit's weights are contiguous. */
function turnedOf(net: Network): Float32Array {
  const known = turnedTables.get(net);
  if (known) return known;
  const { inputs, hidden, inner } = net;
  const turned = new Float32Array(inputs * hidden);
  for (let i = 0; i < inputs; i++)
    for (let h = 0; h < hidden; h++) turned[h * inputs + i] = inner[i * hidden + h] as number;
  turnedTables.set(net, turned);
  return turned;
}

/** Raw outputs: hyperbolic tangent in the hidden layer, linear in the last. */
export function runNetwork(net: Network, values: ArrayLike<number>): Float64Array {
  const { inputs, hidden, outputs, innerOffset, outer, outerOffset } = net;
  if (values.length !== inputs)
    throw new RangeError(`The network takes ${inputs} figures; it was given ${values.length}.`);
  const turned = turnedOf(net);
  const out = new Float64Array(outerOffset);
  for (let h = 0, at = 0; h < hidden; h++, at += inputs) {
    // Four sums at once, to hide the latency of a single chain of additions.
    let [a, b, c, d] = [innerOffset[h] as number, 0, 0, 0];
    let i = 0;
    for (; i + 3 < inputs; i += 4) {
      a += (values[i] as number) * (turned[at + i] as number);
      b += (values[i + 1] as number) * (turned[at + i + 1] as number);
      c += (values[i + 2] as number) * (turned[at + i + 2] as number);
      d += (values[i + 3] as number) * (turned[at + i + 3] as number);
    }
    for (; i < inputs; i++) a += (values[i] as number) * (turned[at + i] as number);
    const unit = Math.tanh(a + b + (c + d));
    for (let o = 0; o < outputs; o++) out[o] = (out[o] as number) + unit * (outer[h * outputs + o] as number);
  }
  return out;
}

/** Softmax: probabilities of scores, adding up to one. */
export function softmax(scores: ArrayLike<number>): Float64Array {
  const most = Math.max(...Array.from(scores));
  const powers = Float64Array.from(scores, (s) => Math.exp(s - most));
  const sum = powers.reduce((a, b) => a + b, 0);
  return powers.map((p) => p / sum);
}

/** Logistic function of one score. */
export function logistic(score: number): number {
  return 1 / (1 + Math.exp(-score));
}

/** Numbers from the base64 of their little-endian 32-bit floats. */
export function table(base64: string): Float32Array {
  return new Float32Array(fromBase64(base64).buffer);
}
