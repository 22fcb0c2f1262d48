import { type Network, runNetwork } from './network';
import { BANDS, CELLS } from './sketch';
import type { SoundFigures } from './sound';

/** Bands and cells that are held against one another together: starts of the zones. */
const BAND_ZONES = [0, 4, 8, 12, 16, 20] as const;
const CELL_ZONES = [0, 1, 3, 6, 10] as const;
const ZONES = BAND_ZONES.length * CELL_ZONES.length;
/** The zone of each cell and band. */
const ZONE_OF = Uint8Array.from({ length: CELLS * BANDS }, (_, i) => {
  const [cell, band] = [Math.floor(i / BANDS), i % BANDS];
  const zoneOf = (starts: readonly number[], at: number) => starts.findLastIndex((start) => start <= at);
  return zoneOf(CELL_ZONES, cell) * BAND_ZONES.length + zoneOf(BAND_ZONES, band);
});
/** What lies further under a sound's loudest band of a moment does not tell it, as a logarithm of power. */
const FLOOR = -6;
/** Levels that are further apart than this are simply different, as a logarithm of power. */
const FAR = 2.5;
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
  /** Logarithms of power by cell and band over the floor, at most 6 and at least 0. */
  readonly levels: Float32Array;
  /** 1 where a level is the sound's own, 0 where it may be what rang on before. */
  readonly own: Uint8Array;
  readonly cells: number;
  readonly figures: Pick<SoundFigures, 'root' | 'peakDb' | 'brightnessHz' | 'seconds'>;
  /** Logarithms of the decay by 20 dB in ms, and of the changes of sign a second. */
  readonly decay: number | null;
  readonly crossings: number;
  readonly brightness: number;
  readonly chances: FamilyChances;
}

export function comparable(sound: SoundFigures, chances: FamilyChances): Comparable {
  const { sketch, envelope } = sound;
  const { powers, cells, before } = sketch;
  const loudest = powers.reduce((a, b) => Math.max(a, b), 1e-14);
  const levels = new Float32Array(cells * BANDS);
  const own = new Uint8Array(cells * BANDS);
  for (let i = 0; i < cells * BANDS; i++) {
    const power = powers[i] as number;
    levels[i] = Math.max(FLOOR, Math.log10(power / loudest + 1e-12)) - FLOOR;
    // The most that can be left of what sounded before is all of it.
    own[i] = (before[i % BANDS] as number) <= MOST_LEFT * power ? 1 : 0;
  }
  return {
    levels,
    own,
    cells,
    figures: sound,
    decay: envelope.decay20Ms,
    crossings: Math.log10(20 + envelope.crossings),
    brightness: Math.log2(50 + sound.brightnessHz),
    chances,
  };
}

export function pairInputCount(chances: FamilyChances): number {
  return ZONES + FIGURES + chances.contains.length;
}

const sums = new Float64Array(ZONES);
const weights = new Float64Array(ZONES);

/** What the network is shown of two sounds, the same whichever comes first; written to `out`, `pairInputCount` long. */
export function pairInputs(
  a: Comparable,
  b: Comparable,
  out = new Float32Array(pairInputCount(a.chances)),
): Float32Array {
  const { levels: levelsA, own: ownA, figures: fa } = a;
  const { levels: levelsB, own: ownB, figures: fb } = b;
  sums.fill(0);
  weights.fill(0);
  let [known, all, dot, squareA, squareB] = [0, 0, 0, 0, 0];
  const count = Math.min(levelsA.length, levelsB.length);
  for (let i = 0; i < count; i++) {
    const x = levelsA[i] as number;
    const y = levelsB[i] as number;
    const heard = Math.max(x, y);
    all += heard;
    if (ownA[i] === 0 || ownB[i] === 0) continue;
    known += heard;
    const off = Math.abs(x - y);
    const zone = ZONE_OF[i] as number;
    weights[zone] = (weights[zone] as number) + heard;
    sums[zone] = (sums[zone] as number) + heard * Math.min(off, FAR);
    dot += x * y;
    squareA += x * x;
    squareB += y * y;
  }
  for (let zone = 0; zone < ZONES; zone++) {
    const weight = weights[zone] as number;
    out[zone] = weight > 0 ? (sums[zone] as number) / weight : 0;
  }
  const longest = Math.min(fa.seconds, fb.seconds) * 1000;
  const decay = (ms: number | null) => Math.log10(1 + (ms === null || ms > longest ? longest : ms));
  const [mainA, mainB] = [a.chances.main, b.chances.main];
  let family = 0;
  for (let f = 0; f < mainA.length; f++) family += Math.sqrt((mainA[f] as number) * (mainB[f] as number));
  let n = ZONES;
  out[n++] = all > 0 ? known / all : 0;
  out[n++] = squareA > 0 && squareB > 0 ? dot / Math.sqrt(squareA * squareB) : 1;
  out[n++] = Math.min(30, Math.abs(fa.peakDb - fb.peakDb)) / 10;
  out[n++] = Math.abs(decay(a.decay) - decay(b.decay));
  out[n++] = Math.abs(a.crossings - b.crossings);
  out[n++] = Math.abs(a.brightness - b.brightness);
  out[n++] = fa.root && fb.root ? Math.min(1, Math.abs(Math.log2(fa.root.hz / fb.root.hz))) : 0.3;
  out[n++] = family;
  const [holdsA, holdsB] = [a.chances.contains, b.chances.contains];
  for (let f = 0; f < holdsA.length; f++) out[n++] = Math.abs((holdsA[f] as number) - (holdsB[f] as number));
  return out;
}

/** How much likelier two sounds are the same drum than not, as a logarithm of odds. */
export function samenessOf(a: Comparable, b: Comparable, network: Network): number {
  return runNetwork(network, pairInputs(a, b))[0] as number;
}
