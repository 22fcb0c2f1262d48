import { Kernel } from '../kernel/kernel';
import { type ClearHead, COHERENCE_FIGURES, clearHead, Heads } from './coherence';
import type { SoundFigures } from './description';
import { MOST_PAIRED } from './grouping';
import { LaidNetwork } from './laid-network';
import type { Network } from './network';
import { SAMENESS_NETWORK } from './sameness-weights';
import { BANDS, CELLS } from './sketch';

/**
 * Inputs by zone of the sketch (four bands by some cells) that the kernel compares; then the share compared, and the
 * cosine.
 */
const ZONES = 30;
/** Bands further under a moment's loudest carry no information, as log power. */
const FLOOR = -6;
/** A band at a moment counts where the sound before is at most this share of it. */
const MOST_LEFT = 0.5;
const FIGURES = 8;

/** Family probabilities: the main one's, and each family's of being contained. */
export interface FamilyChances {
  readonly main: ArrayLike<number>;
  readonly contains: ArrayLike<number>;
}

/** Data for comparing a sound with others, prepared once a sound, in the kernel's format. */
export interface Comparable {
  /** Log powers by cell and band over the floor, 0 to 6, then masks of those that certainly belong to the sound. */
  readonly levels: Float32Array;
  readonly cells: number;
  /**
   * Peak in dBFS; logarithms of the 20 dB decay in ms, of the length in ms, of zero crossings a second, of centroid and
   * root in Hz; 1 where there is a root; roots of the main family's probabilities; probabilities of contained families.
   */
  readonly figures: Float32Array;
  readonly head: ClearHead;
}

export function comparable(sound: SoundFigures, chances: FamilyChances): Comparable {
  const { sketch, head, envelope, root, peakDb, brightnessHz, seconds } = sound;
  const { powers, cells, before } = sketch;
  const loudest = powers.reduce((a, b) => Math.max(a, b), 1e-14);
  const levels = new Float32Array(2 * CELLS * BANDS);
  const own = new Int32Array(levels.buffer, 4 * CELLS * BANDS);
  for (let i = 0; i < cells * BANDS; i++) {
    const power = powers[i] as number;
    levels[i] = Math.max(FLOOR, Math.log10(power / loudest + 1e-12)) - FLOOR;
    // At most all of the power can belong to the sound before.
    own[i] = (before[i % BANDS] as number) <= MOST_LEFT * power ? -1 : 0;
  }
  const figures = Float32Array.of(
    peakDb,
    envelope.decay20Ms === null ? Number.POSITIVE_INFINITY : Math.log10(1 + envelope.decay20Ms),
    Math.log10(1 + 1000 * seconds),
    Math.log10(20 + envelope.crossings),
    Math.log2(50 + brightnessHz),
    root ? Math.log2(root.hz) : 0,
    root ? 1 : 0,
    ...Array.from(chances.main, Math.sqrt),
    ...Array.from(chances.contains),
  );
  return { levels, cells, figures, head: clearHead(head, sketch) };
}

/** Comparisons of two sounds by their numbers. */
export interface Pairs {
  /** Log odds of being the same drum. */
  odds(a: number, b: number): number;
  /** The figures of `coherence.ts`. */
  coherence(a: number, b: number): Float32Array;
}

/** All pairs of the first so many sounds are stored in a table; of later ones, only pairs that were asked for. */
const MOST_IN_ROWS = 2000;
/** Above this many, stored pairs take more memory than recomputing them takes time. */
const MOST_BESIDE = 2_000_000;
/** So many sounds fit in the processor's cache at once. */
const TOGETHER = 8;

/**
 * Compares sounds with one another, each pair once; sounds may be added at any time. Each takes about 15 kB in a kernel
 * of its own, freed with this object.
 */
export class SoundPairs implements Pairs {
  private readonly kernel = new Kernel();
  private readonly heads = new Heads(this.kernel);
  private readonly laid: number[] = [];
  private readonly laidHeads: number[] = [];
  private readonly coherenceAt: number;
  /** For each of the first sounds its log odds with those before it; NaN where not yet computed. */
  private readonly rows: Float32Array[] = [];
  /** Log odds of later sounds, by `besideKey`. */
  private readonly beside = new Map<number, number>();
  private readonly families: number;
  private readonly net: LaidNetwork;

  constructor(private readonly network: Network = SAMENESS_NETWORK) {
    this.families = network.inputs - ZONES - FIGURES - COHERENCE_FIGURES;
    this.net = new LaidNetwork(this.kernel, network);
    this.coherenceAt = this.kernel.run.reserve(4 * COHERENCE_FIGURES);
  }

  /** Adds a sound; returns its number. */
  add({ cells, levels, figures, head }: Comparable): number {
    const { kernel } = this;
    const laidHead = this.heads.lay(head);
    this.laidHeads.push(laidHead);
    const words = [kernel.lay(levels), kernel.lay(figures), laidHead];
    const number = this.laid.push(kernel.lay(Int32Array.of(cells, ...words))) - 1;
    if (number < MOST_IN_ROWS) this.rows.push(new Float32Array(number).fill(Number.NaN));
    return number;
  }

  /** Network inputs for two sounds: differences by zone of their sketches and of their figures, and their coherence. */
  inputs(a: number, b: number): Float32Array {
    const { kernel, laid, families, net, network } = this;
    kernel.run.pairInputs(laid[a] as number, laid[b] as number, families, net.values);
    return kernel.floats(net.values, network.inputs).slice();
  }

  coherence(a: number, b: number): Float32Array {
    const { kernel, laidHeads, coherenceAt } = this;
    kernel.run.coherenceFigures(laidHeads[a] as number, laidHeads[b] as number, coherenceAt);
    return kernel.floats(coherenceAt, COHERENCE_FIGURES).slice();
  }

  /** Log odds of two sounds being the same drum, from a network of `npm run train-sameness`; symmetric. */
  odds(a: number, b: number): number {
    const [first, second] = [Math.min(a, b), Math.max(a, b)];
    const known = this.rows[second]?.[first] ?? this.beside.get(besideKey(first, second));
    if (known !== undefined && !Number.isNaN(known)) return known;
    return this.meet(second, [first])[0] as number;
  }

  /** Computes the odds of all pairs among these, faster than pair by pair. */
  meetAll(numbers: readonly number[]): void {
    const rising = [...numbers].sort((a, b) => a - b);
    for (let first = 0; first < rising.length; first += TOGETHER) {
      const some = rising.slice(first, first + TOGETHER);
      for (const number of rising.slice(first + 1)) {
        const row = this.rows[number];
        if (!row) break;
        const strangers = some.filter((other) => other < number && Number.isNaN(row[other]));
        if (strangers.length > 0) this.meet(number, strangers);
      }
    }
  }

  /** Odds of a sound with some that were added before it. */
  private meet(number: number, others: readonly number[]): Float32Array {
    const { kernel, laid, families, net } = this;
    const odds = kernel.within(() => {
      const places = kernel.lay(Int32Array.from(others, (other) => laid[other] as number));
      const out = kernel.run.reserve(4 * others.length);
      kernel.run.pairScores(laid[number] as number, places, others.length, families, net.at, net.values, out);
      return kernel.floats(out, others.length).slice();
    });
    const row = this.rows[number];
    for (const [i, other] of others.entries()) {
      if (row) row[other] = odds[i] as number;
      else if (this.beside.size < MOST_BESIDE) this.beside.set(besideKey(other, number), odds[i] as number);
    }
    return odds;
  }
}

function besideKey(first: number, second: number): number {
  return first * 2 ** 26 + second;
}

/** Sounds of a list, compared by their indices; of short lists all pairs are compared at once. */
export function pairsAmong(sounds: readonly Comparable[], network?: Network): SoundPairs {
  const pairs = new SoundPairs(network);
  const numbers = sounds.map((sound) => pairs.add(sound));
  if (numbers.length <= MOST_PAIRED) pairs.meetAll(numbers);
  return pairs;
}
