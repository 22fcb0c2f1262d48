import { Fft } from '../kernel/fft';
import { BLOCK } from './limits';
import { LONG, roomLayout, SHORT_PARTS, SHORT_UNTIL } from './room-size';

/** Lays a response, left and right, into memory from float `at` on, ready to be convolved by `Resounding`. */
export function layRoom(sides: readonly [Float32Array, Float32Array], memory: Float32Array, at: number): void {
  const layout = roomLayout(sides[0].length);
  memory.fill(0, at, at + layout.floats);
  for (const [side, h] of sides.entries()) {
    memory.set(h.subarray(0, BLOCK), at + side * BLOCK);
    laySpectra(h, BLOCK, BLOCK, SHORT_PARTS, memory, at + layout.short, side);
    laySpectra(h, SHORT_UNTIL, LONG, layout.longParts, memory, at + layout.long, side);
  }
}

/** Spectra of parts of `length` frames from frame `first` on, each followed by as much silence, scaled for the way back. */
function laySpectra(
  h: Float32Array,
  first: number,
  length: number,
  parts: number,
  memory: Float32Array,
  at: number,
  side: number,
): void {
  const size = 2 * length;
  const bins = length + 1;
  const fft = new Fft(size);
  const frame = new Float32Array(size);
  for (let part = 0; part < parts; part++) {
    frame.fill(0);
    const from = first + part * length;
    if (from < h.length) frame.set(h.subarray(from, Math.min(h.length, from + length)));
    const { re, im } = fft.forward(frame);
    const to = at + (2 * part + side) * 2 * bins;
    for (let k = 0; k < bins; k++) {
      memory[to + k] = (re[k] as number) / size;
      memory[to + bins + k] = (im[k] as number) / size;
    }
  }
}
