import { logistic, type Network, runNetwork } from './network';
import { BANDS, CELLS, type Sketch } from './sketch';
import type { SoundFigures } from './sound';

/** Bands and cells that are held against one another together. */
const BAND_ZONES = [
  [0, 7],
  [7, 17],
  [17, BANDS],
] as const;
const CELL_ZONES = [
  [0, 2],
  [2, 6],
  [6, CELLS],
] as const;
/** What lies further under a sound's loudest band of a moment does not tell it, as a logarithm of power. */
const FLOOR = -6;
/** Levels that are further apart than this are simply different, as a logarithm of power. */
const FAR = 2.5;
/** A band of a moment counts where what rang on before is at most this share of it. */
const MOST_LEFT = 0.5;
export const PAIR_INPUTS = BAND_ZONES.length * CELL_ZONES.length + 8;

/** What two sounds are compared by, got ready once a sound. */
export interface Comparable {
  /** Logarithms of power by cell and band against the loudest, none under the floor. */
  readonly levels: Float32Array;
  /** 1 where a level is the sound's own, 0 where it may be what rang on before. */
  readonly own: Uint8Array;
  readonly cells: number;
  readonly figures: Pick<SoundFigures, 'envelope' | 'root' | 'peakDb' | 'brightnessHz' | 'seconds'>;
  /** Probabilities of the families, by the family network. */
  readonly families: ArrayLike<number>;
}

export function comparable(sound: SoundFigures, families: ArrayLike<number>): Comparable {
  const { sketch } = sound;
  const { powers, cells } = sketch;
  const loudest = powers.reduce((a, b) => Math.max(a, b), 1e-14);
  const left = leftoverBands(sketch);
  const levels = new Float32Array(cells * BANDS);
  const own = new Uint8Array(cells * BANDS);
  for (let i = 0; i < cells * BANDS; i++) {
    const power = powers[i] as number;
    levels[i] = Math.max(FLOOR, Math.log10(power / loudest + 1e-12));
    own[i] = (left[i % BANDS] as number) <= MOST_LEFT * power ? 1 : 0;
  }
  return { levels, own, cells, figures: sound, families };
}

/** The most that can be left in each band of what sounded before. */
function leftoverBands({ before }: Sketch): Float32Array {
  return before;
}

/** What the network is shown of two sounds, the same whichever comes first. */
export function pairInputs(a: Comparable, b: Comparable): Float32Array {
  const out = new Float32Array(PAIR_INPUTS);
  const cells = Math.min(a.cells, b.cells);
  const { levels: levelsA, own: ownA } = a;
  const { levels: levelsB, own: ownB } = b;
  let [n, known, all, dot, squareA, squareB] = [0, 0, 0, 0, 0, 0];
  for (const [firstCell, endCell] of CELL_ZONES) {
    for (const [firstBand, endBand] of BAND_ZONES) {
      let [sum, weight] = [0, 0];
      for (let c = firstCell; c < Math.min(endCell, cells); c++) {
        for (let band = firstBand; band < endBand; band++) {
          const i = c * BANDS + band;
          const x = (levelsA[i] as number) - FLOOR;
          const y = (levelsB[i] as number) - FLOOR;
          const heard = Math.max(x, y);
          all += heard;
          if (ownA[i] === 0 || ownB[i] === 0) continue;
          known += heard;
          weight += heard;
          const off = x > y ? x - y : y - x;
          sum += heard * Math.min(FAR, off);
          dot += x * y;
          squareA += x * x;
          squareB += y * y;
        }
      }
      out[n++] = weight > 0 ? sum / weight : 0;
    }
  }
  const [fa, fb] = [a.figures, b.figures];
  const seconds = Math.min(fa.seconds, fb.seconds);
  const decay = ({ envelope }: Comparable['figures']) =>
    Math.log10(1 + Math.min(envelope.decay20Ms ?? 1e9, seconds * 1000));
  let family = 0;
  for (let f = 0; f < a.families.length; f++)
    family += Math.sqrt((a.families[f] as number) * (b.families[f] as number));
  out.set(
    [
      all > 0 ? known / all : 0,
      squareA > 0 && squareB > 0 ? dot / Math.sqrt(squareA * squareB) : 1,
      Math.min(30, Math.abs(fa.peakDb - fb.peakDb)) / 10,
      Math.abs(decay(fa) - decay(fb)),
      Math.abs(Math.log10((20 + fa.envelope.crossings) / (20 + fb.envelope.crossings))),
      Math.abs(Math.log2((50 + fa.brightnessHz) / (50 + fb.brightnessHz))),
      fa.root && fb.root ? Math.min(1, Math.abs(Math.log2(fa.root.hz / fb.root.hz))) : 0.3,
      family,
    ],
    n,
  );
  return out;
}

/** How much likelier two sounds are the same drum than not, as a logarithm of odds. */
export function samenessOf(a: Comparable, b: Comparable, network: Network): number {
  return runNetwork(network, pairInputs(a, b))[0] as number;
}

/** Sounds in groups of the same drum: for each sound the number of its group, from 0 in order of first appearance. */
export interface Grouping {
  readonly groupOf: readonly number[];
  /** 0..1 for each sound: how surely it belongs to its group and to no other. */
  readonly confidence: readonly number[];
}

/**
 * Groups sounds by average linkage: the two groups whose sounds are likeliest the same drum, in the mean of all pairs, are joined as
 * long as they are likelier the same than not (R. Sokal, C. Michener, "A statistical method for evaluating systematic relationships",
 * University of Kansas Science Bulletin 38, 1958). The number of groups follows. `fixed` holds a name for each sound that a person has
 * put in a group: those of one name stay together, those of different names apart.
 */
export function groupSounds(
  count: number,
  odds: (a: number, b: number) => number,
  fixed: readonly (string | null)[] = [],
): Grouping {
  const LEAST = 0;
  const MUST = 1e6;
  const pair = new Float32Array(count * count);
  for (let a = 0; a < count; a++) {
    for (let b = a + 1; b < count; b++) {
      const [x, y] = [fixed[a] ?? null, fixed[b] ?? null];
      const value = x !== null && y !== null ? (x === y ? MUST : -MUST) : odds(a, b);
      pair[a * count + b] = value;
      pair[b * count + a] = value;
    }
  }
  const groupOf = linked(pair, count, LEAST);
  return { groupOf, confidence: confidences(pair, groupOf, count) };
}

/** Average linkage by nearest neighbours kept for each group: sums of odds between groups are added when groups are joined. */
function linked(pair: Float32Array, count: number, least: number): number[] {
  const sums = Float64Array.from(pair);
  const size = new Float64Array(count).fill(1);
  const alive = Array.from({ length: count }, (_, i) => i);
  const joinedTo = Int32Array.from({ length: count }, (_, i) => i);
  const mean = (a: number, b: number) => (sums[a * count + b] as number) / ((size[a] as number) * (size[b] as number));
  const nearest = new Int32Array(count).fill(-1);
  const look = (a: number) => {
    let best = -1;
    for (const b of alive) if (b !== a && (best < 0 || mean(a, b) > mean(a, best))) best = b;
    nearest[a] = best;
  };
  for (const a of alive) look(a);
  while (alive.length > 1) {
    let [from, best] = [-1, least];
    for (const a of alive) {
      const b = nearest[a] as number;
      if (mean(a, b) > best) [from, best] = [a, mean(a, b)];
    }
    if (from < 0) break;
    const other = nearest[from] as number;
    const [keep, gone] = from < other ? [from, other] : [other, from];
    for (const c of alive) {
      if (c === keep || c === gone) continue;
      const sum = (sums[keep * count + c] as number) + (sums[gone * count + c] as number);
      sums[keep * count + c] = sum;
      sums[c * count + keep] = sum;
    }
    size[keep] = (size[keep] as number) + (size[gone] as number);
    joinedTo[gone] = keep;
    alive.splice(alive.indexOf(gone), 1);
    if (alive.length < 2) break;
    look(keep);
    for (const c of alive) {
      if (c === keep) continue;
      if (nearest[c] === keep || nearest[c] === gone) look(c);
      else if (mean(c, keep) > mean(c, nearest[c] as number)) nearest[c] = keep;
    }
  }
  const numbers = new Map<number, number>();
  return Array.from({ length: count }, (_, i) => {
    let root = i;
    while (joinedTo[root] !== root) root = joinedTo[root] as number;
    const known = numbers.get(root) ?? numbers.size;
    numbers.set(root, known);
    return known;
  });
}

function confidences(pair: Float32Array, groupOf: readonly number[], count: number): number[] {
  return groupOf.map((own, a) => {
    const sums = new Map<number, { sum: number; n: number }>();
    for (let b = 0; b < count; b++) {
      if (b === a) continue;
      const group = sums.get(groupOf[b] as number) ?? { sum: 0, n: 0 };
      group.sum += Math.max(-8, Math.min(8, pair[a * count + b] as number));
      group.n++;
      sums.set(groupOf[b] as number, group);
    }
    const mean = (g: { sum: number; n: number } | undefined, none: number) => (g ? g.sum / g.n : none);
    const inOwn = mean(sums.get(own), 2);
    sums.delete(own);
    const inOther = Math.max(-8, ...[...sums.values()].map((g) => g.sum / g.n));
    return logistic((inOwn - inOther) / 2);
  });
}
