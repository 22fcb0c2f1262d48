import { seededRandom } from '../../src/core/signal/random';

/** A file with something wrong in it: cut anywhere, bytes changed, sizes that lie, stretches taken out or doubled. */
export function mutate(good: Uint8Array, seed: number): Uint8Array {
  const random = seededRandom(seed);
  const below = (n: number) => Math.floor(random() * n);
  let bytes: Uint8Array = good.slice();
  const way = below(6);
  if (way === 0) return bytes.slice(0, below(bytes.length + 1));
  if (way === 1) {
    // A few bytes anywhere.
    for (let i = 0; i < 1 + below(20); i++) bytes[below(bytes.length)] = below(256);
  } else if (way === 2) {
    // Bytes of the head, where sizes and formats stand.
    for (let i = 0; i < 1 + below(6); i++) bytes[below(Math.min(bytes.length, 400))] = below(256);
  } else if (way === 3) {
    // A size that lies: four bytes at once, all ones, all zeros, or anything.
    const at = below(Math.min(bytes.length - 4, 4000));
    const value = [0xff, 0, 0x7f, below(256)][below(4)] as number;
    bytes.fill(value, at, at + 4);
  } else if (way === 4) {
    const from = below(bytes.length);
    bytes = Uint8Array.from([...bytes.subarray(0, from), ...bytes.subarray(from + below(3000))]);
  } else {
    const from = below(bytes.length);
    const piece = bytes.subarray(from, from + below(3000));
    bytes = Uint8Array.from([...bytes.subarray(0, from), ...piece, ...bytes.subarray(from)]);
  }
  return random() < 0.15 ? bytes.slice(0, below(bytes.length + 1)) : bytes;
}
