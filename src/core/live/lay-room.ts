import { Fft } from '../kernel/fft';
import { BLOCK } from './limits';
import { type RoomParts, roomLayout } from './room-size';

/** Lays a response, left and right, into memory from float `at` on, ready to be convolved by `Resounding`. */
export function layRoom(sides: readonly [Float32Array, Float32Array], memory: Float32Array, at: number): void {
  const layout = roomLayout(sides[0].length);
  memory.fill(0, at, at + layout.floats);
  for (const [side, h] of sides.entries()) {
    // The other way round, as `throughPair` of the kernel reads it.
    for (let k = 0; k < BLOCK; k++) memory[at + side * BLOCK + BLOCK - 1 - k] = h[k] ?? 0;
    for (const parts of layout.parts) laySpectra(h, parts, memory, at, side);
  }
}

/** Spectra of the parts of one length, each followed by as much silence, scaled for the way back. */
function laySpectra(h: Float32Array, parts: RoomParts, memory: Float32Array, at: number, side: number): void {
  const { length, first, count, response } = parts;
  const size = 2 * length;
  const bins = length + 1;
  const fft = new Fft(size);
  const frame = new Float32Array(size);
  for (let part = 0; part < count; part++) {
    frame.fill(0);
    const from = first + part * length;
    if (from < h.length) frame.set(h.subarray(from, Math.min(h.length, from + length)));
    const { re, im } = fft.forward(frame);
    const to = at + response + (2 * part + side) * 2 * bins;
    for (let k = 0; k < bins; k++) {
      memory[to + k] = (re[k] as number) / size;
      memory[to + bins + k] = (im[k] as number) / size;
    }
  }
}
