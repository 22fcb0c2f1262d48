import { type Network, runNetwork } from './network';
import { BANDS, CELLS } from './sketch';
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
  // The most that can be left of what sounded before is all of it.
  const { powers, cells, before } = sketch;
  const loudest = powers.reduce((a, b) => Math.max(a, b), 1e-14);
  const levels = new Float32Array(cells * BANDS);
  const own = new Uint8Array(cells * BANDS);
  for (let i = 0; i < cells * BANDS; i++) {
    const power = powers[i] as number;
    levels[i] = Math.max(FLOOR, Math.log10(power / loudest + 1e-12));
    own[i] = (before[i % BANDS] as number) <= MOST_LEFT * power ? 1 : 0;
  }
  return { levels, own, cells, figures: sound, families };
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
