import { Kernel } from '../kernel/kernel';
import { type ClearHead, COHERENCE_FIGURES, clearHead, Heads } from './coherence';
import type { SoundFigures } from './description';
import { MOST_PAIRED } from './grouping';
import { LaidNetwork } from './laid-network';
import type { Network } from './network';
import { SAMENESS_NETWORK } from './sameness-weights';
import { BANDS, CELLS } from './sketch';

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

/** What two sounds are compared by, got ready once a sound, as the kernel reads it. */
export interface Comparable {
  /** Logarithms of power by cell and band over the floor, 0 to 6, then masks of those that are surely the sound's own. */
  readonly levels: Float32Array;
  readonly cells: number;
  /**
   * Peak in dBFS; logarithms of the decay by 20 dB in ms, of the length in ms, of the changes of sign a second, of the brightness and
   * the root in Hz; 1 where there is a root; roots of the probabilities of the main family; probabilities of those it contains.
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
    // The most that can be left of what sounded before is all of it.
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

/** Of the first so many sounds all odds have a place; of later ones, of which only some pairs are asked for, those are kept that were. */
const MOST_IN_ROWS = 2000;
/** Beyond that pairs take more memory than working them out again takes time. */
const MOST_BESIDE = 2_000_000;
/** So many lie in the processor's cache at once. */
const TOGETHER = 8;

/**
 * Sounds held against one another, each pair once: sounds can come at any time, and those that came before know one another. They lie in a
 * memory of their own, some 15 kB each, that goes with this.
 */
export class SoundPairs {
  private readonly kernel = new Kernel();
  private readonly heads = new Heads(this.kernel);
  private readonly laid: number[] = [];
  /** For each of the first sounds its odds with those before it; NaN for those not asked for yet. */
  private readonly rows: Float32Array[] = [];
  /** Odds of later sounds, by `besideKey`. */
  private readonly beside = new Map<number, number>();
  private readonly families: number;
  private readonly net: LaidNetwork;

  constructor(private readonly network: Network = SAMENESS_NETWORK) {
    this.families = network.inputs - ZONES - FIGURES - COHERENCE_FIGURES;
    this.net = new LaidNetwork(this.kernel, network);
  }

  /** Takes a sound in; gives its number. */
  add({ cells, levels, figures, head }: Comparable): number {
    const { kernel } = this;
    const words = [kernel.lay(levels), kernel.lay(figures), this.heads.lay(head)];
    const number = this.laid.push(kernel.lay(Int32Array.of(cells, ...words))) - 1;
    if (number < MOST_IN_ROWS) this.rows.push(new Float32Array(number).fill(Number.NaN));
    return number;
  }

  /** What the network is shown of two sounds: how they differ by zones of their sketches, by their figures, and how coherent they are. */
  inputs(a: number, b: number): Float32Array {
    const { kernel, laid, families, net, network } = this;
    kernel.run.pairInputs(laid[a] as number, laid[b] as number, families, net.values);
    return kernel.floats(net.values, network.inputs).slice();
  }

  /**
   * How much likelier two sounds are the same drum than not, as a logarithm of odds: what a network of `npm run train-sameness` makes of
   * `inputs`; the same whichever comes first.
   */
  odds(a: number, b: number): number {
    const [first, second] = [Math.min(a, b), Math.max(a, b)];
    const known = this.rows[second]?.[first] ?? this.beside.get(besideKey(first, second));
    if (known !== undefined && !Number.isNaN(known)) return known;
    return this.meet(second, [first])[0] as number;
  }

  /** Has all of these know one another, in less time than pair by pair. */
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

  /** Odds of a sound with some that came before it. */
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

/** Odds of sounds by their places in a list; of no more than know one another, all pairs are held against one another at once. */
export function oddsAmong(sounds: readonly Comparable[], network?: Network): (a: number, b: number) => number {
  const pairs = new SoundPairs(network);
  const numbers = sounds.map((sound) => pairs.add(sound));
  if (numbers.length <= MOST_PAIRED) pairs.meetAll(numbers);
  return (a, b) => pairs.odds(a, b);
}
