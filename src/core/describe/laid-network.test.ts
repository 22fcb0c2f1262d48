import { Kernel } from '../kernel/kernel';
import { seededRandom } from '../signal/random';
import { LaidNetwork } from './laid-network';
import { type Network, runNetwork } from './network';

/** Sizes that are no multiples of four. */
function network(seed: number): Network {
  const random = seededRandom(seed);
  const [inputs, hidden, outputs] = [10, 7, 3];
  const table = (count: number) => Float32Array.from({ length: count }, () => 2 * random() - 1);
  return {
    inputs,
    hidden,
    outputs,
    inner: table(inputs * hidden),
    innerOffset: table(hidden),
    outer: table(hidden * outputs),
    outerOffset: table(outputs),
  };
}

it('gives what the network does, four numbers at a time', () => {
  const kernel = new Kernel();
  // Two in one memory do not lie in one another's way.
  for (const net of [network(1), network(2)].map((n) => ({ n, laid: new LaidNetwork(kernel, n) }))) {
    const random = seededRandom(9);
    const values = Float32Array.from({ length: 10 }, () => 3 * random() - 1);
    const [told, plain] = [net.laid.run(values), runNetwork(net.n, values)];
    for (const [i, value] of plain.entries()) expect(told[i]).toBeCloseTo(value, 4);
  }
});

it('refuses figures that it was not made for', () => {
  expect(() => new LaidNetwork(new Kernel(), network(1)).run([1, 2])).toThrow('takes 10 figures; it was given 2');
});
