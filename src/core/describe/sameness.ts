import { threadKernel } from '../kernel/kernel';
import { type ClearHead, COHERENCE_FIGURES, clearHead, layHeads } from './coherence';
import type { Network } from './network';
import { BANDS, CELLS } from './sketch';
import type { SoundFigures } from './sound';

/** Zones of the sketch, four bands by some cells, that the kernel holds against one another; then what share was compared and the cosine. */
const ZONES = 30;
/** What lies further under a sound's loudest band of a moment does not tell it, as a logarithm of power. */
const FLOOR = -6;
/** A band of a moment counts where what rang on before is at most this share of it. */
const MOST_LEFT = 0.5;
const FIGURES = 8;

/** Probabilities of the families, the main one's and for each that the sound contains it. */
export interface FamilyChances {
  readonly main: ArrayLike<number>;
  readonly contains: ArrayLike<number>;
}

/** What two sounds are compared by, got ready once a sound. */
export interface Comparable {
  /** As the kernel reads it: logarithms of power by cell and band over the floor, 0 to 6, then masks of those that are surely the sound's own. */
  readonly row: Float32Array;
  readonly cells: number;
  readonly peakDb: number;
  /** Logarithms: of the decay by 20 dB in ms, of the length in ms, of the changes of sign a second, of the brightness and the root in Hz. */
  readonly decay: number;
  readonly length: number;
  readonly crossings: number;
  readonly brightness: number;
  readonly root: number | null;
  /** Roots of the probabilities of the main family. */
  readonly main: Float64Array;
  readonly contains: ArrayLike<number>;
  readonly head: ClearHead;
}

export function comparable(sound: SoundFigures, chances: FamilyChances): Comparable {
  const { sketch, head, envelope, root, peakDb, brightnessHz, seconds } = sound;
  const { powers, cells, before } = sketch;
  const loudest = powers.reduce((a, b) => Math.max(a, b), 1e-14);
  const row = new Float32Array(2 * CELLS * BANDS);
  const own = new Int32Array(row.buffer, 4 * CELLS * BANDS);
  for (let i = 0; i < cells * BANDS; i++) {
    const power = powers[i] as number;
    row[i] = Math.max(FLOOR, Math.log10(power / loudest + 1e-12)) - FLOOR;
    // The most that can be left of what sounded before is all of it.
    own[i] = (before[i % BANDS] as number) <= MOST_LEFT * power ? -1 : 0;
  }
  return {
    row,
    cells,
    peakDb,
    decay: envelope.decay20Ms === null ? Number.POSITIVE_INFINITY : Math.log10(1 + envelope.decay20Ms),
    length: Math.log10(1 + 1000 * seconds),
    crossings: Math.log10(20 + envelope.crossings),
    brightness: Math.log2(50 + brightnessHz),
    root: root && Math.log2(root.hz),
    main: Float64Array.from(chances.main, Math.sqrt),
    contains: chances.contains,
    head: clearHead(head, sketch),
  };
}

/** Writes how figures of two sounds differ, the same whichever comes first, after what the kernel tells of their sketches. */
function compareFigures(a: Comparable, b: Comparable, out: Float32Array): void {
  const length = Math.min(a.length, b.length);
  let family = 0;
  for (let f = 0; f < a.main.length; f++) family += (a.main[f] as number) * (b.main[f] as number);
  let n = ZONES + 2;
  out[n++] = Math.min(30, Math.abs(a.peakDb - b.peakDb)) / 10;
  out[n++] = Math.abs(Math.min(a.decay, length) - Math.min(b.decay, length));
  out[n++] = Math.abs(a.crossings - b.crossings);
  out[n++] = Math.abs(a.brightness - b.brightness);
  out[n++] = a.root !== null && b.root !== null ? Math.min(1, Math.abs(a.root - b.root)) : 0.3;
  out[n++] = family;
  for (let f = 0; f < a.contains.length; f++)
    out[n++] = Math.abs((a.contains[f] as number) - (b.contains[f] as number));
}

/** Sounds laid in the kernel's memory, where pairs of them are compared. */
interface Laid {
  /** Figures told of a pair. */
  readonly count: number;
  /** Where they are told; there is room up to a multiple of 4. */
  readonly at: number;
  /** Tells them of two sounds, by their places: how they differ by zones of their sketches, by their figures, how coherent they are. */
  compare(a: number, b: number): Float32Array;
}

function lay(sounds: readonly Comparable[]): Laid {
  const kernel = threadKernel();
  const { run } = kernel;
  const rows = sounds.map(({ row }) => kernel.lay(row));
  const heads = layHeads(sounds.map(({ head }) => head));
  const own = ZONES + FIGURES + (sounds[0]?.contains.length ?? 0);
  const count = own + COHERENCE_FIGURES;
  const at = kernel.lay(new Float32Array(upToFours(count)));
  let values = kernel.floats(at, count);
  return {
    count,
    at,
    compare(a, b) {
      // Memory that has grown since lies elsewhere.
      if (values.buffer !== run.memory.buffer) values = kernel.floats(at, count);
      const [x, y] = [sounds[a] as Comparable, sounds[b] as Comparable];
      run.zoneDifferences(rows[a] as number, rows[b] as number, Math.min(x.cells, y.cells), at);
      compareFigures(x, y, values);
      heads.compare(a, b, values, own);
      return values;
    },
  };
}

/** Lets `work` ask what the network is shown of two sounds, by their places in the list; the same whichever comes first. */
export function withInputs<T>(
  sounds: readonly Comparable[],
  work: (inputs: (a: number, b: number) => Float32Array) => T,
): T {
  return threadKernel().within(() => {
    const { compare } = lay(sounds);
    return work((a, b) => compare(a, b).slice());
  });
}

/**
 * Lets `work` ask for sounds, by their places in the list, how much likelier two are the same drum than not, as a logarithm of odds:
 * what a network of `npm run train-sameness` makes of `withInputs`.
 */
export function withOdds<T>(
  sounds: readonly Comparable[],
  network: Network,
  work: (odds: (a: number, b: number) => number) => T,
): T {
  const kernel = threadKernel();
  return kernel.within(() => {
    const { count, at, compare } = lay(sounds);
    const { inputs, hidden, inner, outer, innerOffset } = network;
    if (sounds.length > 0 && count !== inputs)
      throw new RangeError(`The network takes ${inputs} figures; it was given ${count}.`);
    const wide = upToFours(inputs);
    const units = upToFours(hidden);
    const turned = new Float32Array(units * wide);
    for (let i = 0; i < inputs; i++)
      for (let h = 0; h < hidden; h++) turned[h * wide + i] = inner[i * hidden + h] as number;
    const innerAt = kernel.lay(turned);
    const offsetsAt = kernel.lay(padded(innerOffset, units));
    const outerAt = kernel.lay(padded(outer, units));
    const last = network.outerOffset[0] as number;
    return work((a, b) => {
      compare(a, b);
      return kernel.run.networkScore(at, wide, units, innerAt, offsetsAt, outerAt, last);
    });
  });
}

function upToFours(count: number): number {
  return 4 * Math.ceil(count / 4);
}

function padded(values: Float32Array, length: number): Float32Array {
  const out = new Float32Array(length);
  out.set(values);
  return out;
}
