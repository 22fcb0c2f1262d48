import type { SoundFigures } from './description';
import { BANDS, type Sketch } from './sketch';
import { TEXTURE_FIGURES } from './texture';

/** Cells of the sketch that are merged. */
const GROUPS = [
  [0, 1],
  [1, 2],
  [2, 4],
  [4, 6],
  [6, 8],
  [8, 10],
  [10, 13],
] as const;
const FLOOR = -7;
/** Assumed log power of a stretch past the sound's end, relative to its last one. */
const FALL = 0.8;
const FIGURES = 10;
export const NETWORK_INPUTS = GROUPS.length * BANDS + 1 + FIGURES + TEXTURE_FIGURES;

/**
 * Inputs of the family and drum networks: levels by band and time relative to the loudest moment, and figures of
 * envelope, pitch and texture.
 */
export function networkInputs(
  sound: Pick<SoundFigures, 'sketch' | 'texture' | 'envelope' | 'root' | 'seconds'>,
): Float32Array {
  const { sketch, texture, envelope, root, seconds } = sound;
  const out = new Float32Array(NETWORK_INPUTS);
  const loudest = loudestCell(sketch);
  let known = 0;
  for (const [g, [from, to]] of GROUPS.entries()) {
    const last = Math.min(to, sketch.cells);
    for (let b = 0; b < BANDS; b++) {
      const at = g * BANDS + b;
      if (last <= from) {
        out[at] = Math.max(FLOOR, (out[at - BANDS] as number) - FALL);
        continue;
      }
      let sum = 0;
      for (let c = from; c < last; c++) sum += sketch.powers[c * BANDS + b] as number;
      out[at] = Math.max(FLOOR, Math.log10(sum / (last - from) / loudest + 1e-12));
    }
    if (last > from) known++;
  }
  const length = Math.min(1.5, seconds) * 1000;
  out.set(
    [
      known / GROUPS.length,
      Math.log10(1 + envelope.attackMs),
      Math.log10(1 + (envelope.decay20Ms ?? length)),
      Math.log10(1 + (envelope.decay40Ms ?? length)),
      envelope.decay40Ms === null ? 0 : 1,
      Math.min(8, envelope.bursts) / 4,
      envelope.crestDb / 10,
      Math.log10(20 + envelope.crossings),
      root ? Math.log2(root.hz / 200) : 0,
      root ? root.clarity : 0,
      Math.log10(10 + length),
      ...texture,
    ],
    GROUPS.length * BANDS,
  );
  return out;
}

function loudestCell({ powers, cells }: Sketch): number {
  let most = 1e-12;
  for (let c = 0; c < cells; c++) {
    let sum = 0;
    for (let b = 0; b < BANDS; b++) sum += powers[c * BANDS + b] as number;
    most = Math.max(most, sum);
  }
  return most;
}
