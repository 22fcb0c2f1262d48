import { Kernel } from '../kernel/kernel';
import type { Network } from './network';

/** A network stored in a kernel's memory and run four numbers at a time; equals `runNetwork` within 1e-4. */
export class LaidNetwork {
  /** Its address in the kernel. */
  readonly at: number;
  /** Address of its inputs. */
  readonly values: number;
  private readonly out: number;

  constructor(
    private readonly kernel: Kernel,
    private readonly network: Network,
  ) {
    const { inputs, hidden, outputs, inner, innerOffset, outer, outerOffset } = network;
    const [wide, units] = [upToFours(inputs), upToFours(hidden)];
    const laid = [
      kernel.lay(turned(inner, inputs, hidden, wide, units)),
      kernel.lay(turned(innerOffset, 1, hidden, 1, units)),
      kernel.lay(turned(outer, hidden, outputs, units, outputs)),
      kernel.lay(outerOffset),
      kernel.run.reserve(4 * units),
    ];
    this.at = kernel.lay(Int32Array.of(wide, units, outputs, ...laid));
    this.values = kernel.lay(new Float32Array(wide));
    this.out = kernel.run.reserve(4 * outputs);
  }

  /** Raw outputs, before any squashing. */
  run(values: ArrayLike<number>): Float64Array {
    const { kernel, network } = this;
    if (values.length !== network.inputs)
      throw new RangeError(`The network takes ${network.inputs} figures; it was given ${values.length}.`);
    kernel.floats(this.values, network.inputs).set(values);
    kernel.run.networkOutputs(this.at, this.values, this.out);
    return Float64Array.from(kernel.floats(this.out, network.outputs));
  }
}

const known = new WeakMap<Network, LaidNetwork>();

/** The network as stored for this thread, on first use. */
export function laidNetwork(network: Network): LaidNetwork {
  const laid = known.get(network) ?? new LaidNetwork(new Kernel(), network);
  known.set(network, laid);
  return laid;
}

/** A `rows` by `columns` table, transposed so that summands are contiguous, padded with zeros to `wide` by `high`. */
function turned(table: Float32Array, rows: number, columns: number, wide: number, high: number): Float32Array {
  const out = new Float32Array(wide * high);
  for (let r = 0; r < rows; r++) for (let c = 0; c < columns; c++) out[c * wide + r] = table[r * columns + c] as number;
  return out;
}

function upToFours(count: number): number {
  return 4 * Math.ceil(count / 4);
}
