import { select } from '../signal/select';
import { BANDS, type Sketch } from './sketch';

/** Cells of a sketch that are compared: the first 80 ms, before most tails differ. */
const CELLS = 6;
const SIZE = CELLS * BANDS;
/** Powers this far under a sketch's loudest carry no information. */
const FLOOR = 1e-6;
/** Larger differences, in dB, count as this one. */
const MOST_DB = 15;
/** A band at a moment counts for a level from this share of its sketch's loudest on. */
const LOUD = 1e-3;
/** What one sound explains is exceeded where the power is more than this many times as much. */
const EXCEEDED = 2;
/** The same of a power that would be missing. */
const MISSING = 4;
/** The bands are divided into this many zones of equal size, from low to high. */
const ZONES = 3;
const ZONE_BANDS = BANDS / ZONES;

/** The beginning of a sketch with the loudest power 1. */
export interface Beginning {
  readonly powers: Float32Array;
  /** How many powers there are, cell by cell. */
  readonly count: number;
  /** The loudest power as it is. */
  readonly loudest: number;
}

export function beginningOf({ powers, cells }: Sketch): Beginning {
  const count = Math.min(cells, CELLS) * BANDS;
  const own = powers.subarray(0, count);
  const loudest = own.reduce((most, power) => Math.max(most, power), 0);
  return { count, loudest, powers: loudest > 0 ? own.map((power) => power / loudest) : new Float32Array(count) };
}

const values = new Float64Array(SIZE);

/** The quantile of the first `count` of `values`, which are reordered; 0 of none. */
function quantileOf(count: number, share: number): number {
  return count === 0 ? 0 : select(values.subarray(0, count), Math.floor(share * (count - 1)));
}

const single = new Float32Array(1);
const bits = new Int32Array(single.buffer);

/**
 * A positive ratio of power in dB, within 0.03 dB: the exponent of a 32-bit float and a parabola for its mantissa, since
 * logarithms take most of the time of a fit.
 */
export function dbOf(ratio: number): number {
  single[0] = ratio;
  const word = bits[0] as number;
  bits[0] = (word & 0x7fffff) | 0x3f800000;
  const mantissa = single[0] as number;
  const octaves = (word >> 23) - 127 + (-mantissa / 3 + 2) * mantissa - 5 / 3;
  return octaves * DB_OF_DOUBLE;
}
const DB_OF_DOUBLE = 10 * Math.log10(2);

/**
 * Level at which a sound lies in another, as a ratio of power: a low quantile of the ratios, because whatever else sounds
 * only adds power.
 */
export function levelIn(whole: Beginning, part: Beginning, share: number): number {
  const count = Math.min(whole.count, part.count);
  let n = 0;
  for (let i = 0; i < count; i++)
    if ((part.powers[i] as number) > LOUD) values[n++] = (whole.powers[i] as number) / (part.powers[i] as number);
  return quantileOf(n, share);
}

/** How a sound at a level lies under another: mean power in dB that would be missing, and that is left over. */
export interface Misfit {
  readonly missing: number;
  readonly left: number;
}

export function misfit(whole: Beginning, part: Beginning, level: number): Misfit {
  const count = Math.min(whole.count, part.count);
  let [missing, left, n] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const there = (whole.powers[i] as number) + FLOOR;
    const given = level * (part.powers[i] as number) + FLOOR;
    if (there < 2 * FLOOR && given < 2 * FLOOR) continue;
    const db = dbOf(there / given);
    if (db < 0) missing += Math.min(MOST_DB, -db);
    else left += Math.min(MOST_DB, db);
    n++;
  }
  return n === 0 ? { missing: MOST_DB, left: MOST_DB } : { missing: missing / n, left: left / n };
}

/** A sound taken for the sum of two others. Differences are means of absolute ones, in dB. */
export interface Fit {
  /** Power of the second in the whole relative to its own. */
  readonly level: number;
  /** Difference from the sum. */
  readonly off: number;
  /** Difference from the first alone. */
  readonly offAlone: number;
  /** Share of bands and moments in which the second is the louder. */
  readonly second: number;
  /** Both differences there. */
  readonly secondOff: number;
  readonly secondOffAlone: number;
  /** Power of the second in the whole, in dB. */
  readonly secondDb: number;
  /** Share of the second's bands and moments at which far less power is there than it would bring. */
  readonly missing: number;
  /** Share of bands and moments that the first alone does not explain. */
  readonly exceeded: number;
}

export const NO_FIT: Fit = {
  ...{ level: 0, off: MOST_DB, offAlone: MOST_DB, second: 0, secondOff: MOST_DB, secondOffAlone: 0 },
  ...{ secondDb: -60, missing: 1, exceeded: 0 },
};

/** A sound at a level in a whole, and what it leaves unexplained there, prepared to be fitted with several others. */
export interface Explained {
  /** Powers of the whole and of the sound, over the floor. */
  readonly there: Float64Array;
  readonly first: Float64Array;
  /** Differences of the two, in dB. */
  readonly off: Float64Array;
  /** Places at which the whole exceeds the sound. */
  readonly exceeded: readonly number[];
}

/** `part` null explains nothing. */
export function explain(whole: Beginning, part: Beginning | null, level: number): Explained {
  const count = part ? Math.min(whole.count, part.count) : whole.count;
  const [there, first, off] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)];
  const exceeded: number[] = [];
  for (let i = 0; i < count; i++) {
    const power = (whole.powers[i] as number) + FLOOR;
    const given = (part ? level * (part.powers[i] as number) : 0) + FLOOR;
    [there[i], first[i]] = [power, given];
    off[i] = Math.min(MOST_DB, Math.abs(dbOf(power / given)));
    if (power > EXCEEDED * given) exceeded.push(i);
  }
  return { there, first, off, exceeded };
}

/** Fits a second sound to what the first leaves: at the median of the ratios where the first is exceeded. */
export function fitSecond({ there, first, off: offAlone, exceeded }: Explained, second: Beginning): Fit {
  const count = Math.min(there.length, second.count);
  let ratios = 0;
  for (const i of exceeded) {
    if (i >= count) break;
    const power = second.powers[i] as number;
    if (power > LOUD / 10) values[ratios++] = ((there[i] as number) - (first[i] as number)) / power;
  }
  const level = quantileOf(ratios, 0.5);
  let [n, off, alone, louder, louderOff, louderAlone] = [0, 0, 0, 0, 0, 0];
  let [brought, sum, heard, missing] = [0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [power, given, left] = [there[i] as number, first[i] as number, offAlone[i] as number];
    const added = level * (second.powers[i] as number);
    if (power < 2 * FLOOR && given + added < 2 * FLOOR) continue;
    // Most of the time nothing is added.
    const db = added < UNHEARD * given ? left : Math.min(MOST_DB, Math.abs(dbOf(power / (given + added))));
    n++;
    off += db;
    alone += left;
    brought += added;
    sum += power;
    if (added > EXCEEDED * given) {
      louder++;
      louderOff += db;
      louderAlone += left;
    }
    if (added > FLOOR) {
      heard++;
      if (added > MISSING * power) missing++;
    }
  }
  if (n === 0) return NO_FIT;
  return {
    level,
    off: off / n,
    offAlone: alone / n,
    second: louder / n,
    secondOff: louder === 0 ? MOST_DB : louderOff / louder,
    secondOffAlone: louder === 0 ? 0 : louderAlone / louder,
    secondDb: Math.max(-60, dbOf(brought / sum + 1e-9)),
    missing: heard === 0 ? 1 : missing / heard,
    exceeded: ratios / n,
  };
}
/** A share of power that makes no difference. */
const UNHEARD = 0.005;

/** Figures of `zonesOf`. */
export const ZONE_FIGURES = 2 * ZONES;

/** By zone of bands, how much the ratio of two sounds varies, in dB; then its median in each. */
export function zonesOf(a: Beginning, b: Beginning): Float64Array {
  const count = Math.min(a.count, b.count);
  const out = new Float64Array(ZONE_FIGURES);
  for (let zone = 0; zone < ZONES; zone++) {
    let n = 0;
    for (let i = 0; i < count; i++) {
      if (Math.floor((i % BANDS) / ZONE_BANDS) !== zone) continue;
      const [x, y] = [(a.powers[i] as number) + FLOOR, (b.powers[i] as number) + FLOOR];
      if (x >= 2 * FLOOR || y >= 2 * FLOOR) values[n++] = dbOf(x / y);
    }
    const middle = quantileOf(n, 0.5);
    let varies = 0;
    for (let k = 0; k < n; k++) varies += Math.min(MOST_DB, Math.abs((values[k] as number) - middle));
    out[zone] = n === 0 ? MOST_DB : varies / n;
    out[ZONES + zone] = middle;
  }
  return out;
}
