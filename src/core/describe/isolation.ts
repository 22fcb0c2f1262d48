import type { Candidate } from '../onset/detect';
import type { Region } from '../onset/split';
import { select } from '../signal/select';
import { BANDS, bandMiddles, CELLS, cellSeconds, cellSpanSeconds, type Sketch, WINDOW_S } from './sketch';

/** A foreign sound in a slice, and its energy relative to the slice's own: -18 is eighteen decibels less. */
export type Impurity =
  | { readonly kind: 'tail before'; readonly db: number }
  /** `seconds` after the slice's start. */
  | { readonly kind: 'another onset'; readonly db: number; readonly seconds: number }
  /** `hz` is the middle of the band that holds most of it. */
  | { readonly kind: 'foreign to its group'; readonly db: number; readonly hz: number };

export interface Isolation {
  /**
   * 0 to 100, higher with less foreign sound: 0 for as much foreign energy as own, 95 for 40 dB less, 100 for 80 dB
   * less.
   */
  readonly score: number;
  /** Total foreign energy relative to the slice's own, in dB; finer than the score, for ranking. */
  readonly foreignDb: number;
  /** Worst first; those more than 50 dB under the sound are left out. */
  readonly reasons: readonly Impurity[];
}

/** An onset inside a slice: seconds after its start, and its peak relative to the slice's beginning. */
export interface InnerOnset {
  readonly seconds: number;
  readonly db: number;
}

/** Onsets closer to the start than this belong to it: the second stroke of a flam is reported elsewhere. */
const PART_S = 0.03;
const LEAST_STRENGTH = 0.35;

/** Onsets detected inside a slice, each relative to the peak at the start; `candidates` in order of time. */
export function innerOnsets(region: Region, candidates: readonly Candidate[], sampleRate: number): InnerOnset[] {
  const { startFrame, endFrame } = region;
  const own = nearest(candidates, startFrame);
  const found: InnerOnset[] = [];
  for (let i = firstAfter(candidates, startFrame + PART_S * sampleRate); i < candidates.length; i++) {
    const { frame, strength, peak } = candidates[i] as Candidate;
    if (frame >= endFrame) break;
    if (strength < LEAST_STRENGTH) continue;
    found.push({
      seconds: (frame - startFrame) / sampleRate,
      db: 20 * Math.log10((peak * strength + 1e-6) / ((own?.peak ?? 1) + 1e-6)),
    });
  }
  return found;
}

function nearest(candidates: readonly Candidate[], frame: number): Candidate | undefined {
  const after = firstAfter(candidates, frame);
  const [before, next] = [candidates[after - 1], candidates[after]];
  if (!before || !next) return before ?? next;
  return next.frame - frame < frame - before.frame ? next : before;
}

/** Index of the first candidate after a frame. */
function firstAfter(candidates: readonly Candidate[], frame: number): number {
  let [low, high] = [0, candidates.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((candidates[middle] as Candidate).frame > frame) high = middle;
    else low = middle + 1;
  }
  return low;
}

const BARE_DB = 40;
const BARE_SCORE = 95;
const NOTHING_DB = -50;
/** Bounds of how fast a tail falls, in dB a second. */
const SLOWEST_FALL = 20;
const FASTEST_FALL = 400;
/** Sound that this share of a group's members has at the same place belongs to the drum. */
const GROUP_SHARE = 0.5;
const LEAST_GROUP = 3;
/** Power ratio by which strokes of one drum differ without any foreign sound. */
const ALLOWED = 20;

/**
 * Foreign energy of a slice: the remainder of the sound before (from its level before the start, falling at its
 * measured rate, at most the power present), other onsets inside, and whatever other members of the group do not have
 * at the same place. `usual` is the result of `usualOf` for its group.
 */
export function isolationOf(
  sketch: Sketch,
  inner: readonly InnerOnset[],
  usual: Float32Array | null,
  sampleRate: number,
): Isolation {
  const all = energyOf(sketch);
  if (all <= 0) return { score: 0, foreignDb: 0, reasons: [] };
  const left = leftover(sketch);
  const other = loudestOnset(sketch, inner);
  const foreign = usual ? foreignTo(sketch, usual) : { energy: 0, band: 0 };
  // The remainder of the sound before is unusual for the group too, and is counted once.
  const strange = Math.max(0, foreign.energy - left);
  const impure = left + other.energy + strange;
  const own = Math.max(all - impure, all * 1e-3);
  const db = (energy: number) => 10 * Math.log10(energy / own + 1e-12);
  const parts: readonly Impurity[] = [
    { kind: 'tail before', db: db(left) },
    { kind: 'another onset', db: db(other.energy), seconds: other.seconds },
    { kind: 'foreign to its group', db: db(strange), hz: bandMiddles(sampleRate)[foreign.band] as number },
  ];
  return {
    foreignDb: db(impure),
    score: scoreOf(-db(impure)),
    reasons: parts.filter((reason) => reason.db > NOTHING_DB).sort((a, b) => b.db - a.db),
  };
}

/** The last points of the score separate slices that are all very bare. */
function scoreOf(free: number): number {
  const share = (db: number) => Math.max(0, Math.min(1, db / BARE_DB));
  return Math.round(BARE_SCORE * share(free) + (100 - BARE_SCORE) * share(free - BARE_DB));
}

/** From an onset on, the sound belongs to it up to its level. The onset with the most energy stands for all. */
function loudestOnset(sketch: Sketch, inner: readonly InnerOnset[]): { energy: number; seconds: number } {
  let most = { energy: 0, seconds: 0 };
  for (const { seconds, db } of inner) {
    const energy = energyOf(sketch, seconds) * Math.min(1, 10 ** (db / 10));
    if (energy > most.energy) most = { energy, seconds };
  }
  return most;
}

/** Energy of a sketch's cells from a time on. */
function energyOf({ powers, cells }: Sketch, fromSeconds = 0): number {
  let sum = 0;
  for (let c = 0; c < cells; c++) {
    if (cellSeconds(c) < fromSeconds) continue;
    for (let b = 0; b < BANDS; b++) sum += (powers[c * BANDS + b] as number) * cellSpanSeconds(c);
  }
  return sum;
}

/** Energy in the slice that probably belongs to the sound just before. */
function leftover({ powers, cells, before, earlier }: Sketch): number {
  let sum = 0;
  for (let b = 0; b < BANDS; b++) {
    const level = before[b] as number;
    if (level <= 0) continue;
    const fall = (10 * Math.log10(((earlier[b] as number) + 1e-14) / (level + 1e-14))) / WINDOW_S;
    const perSecond = Math.max(SLOWEST_FALL, Math.min(FASTEST_FALL, fall));
    for (let c = 0; c < cells; c++) {
      const still = level * 10 ** ((-perSecond * cellSeconds(c)) / 10);
      sum += Math.min(still, powers[c * BANDS + b] as number) * cellSpanSeconds(c);
    }
  }
  return sum;
}

/**
 * Usual power of a group's sounds in each cell and band, at a common level: what `GROUP_SHARE` of the sounds that reach
 * there have at most. Null for groups too small to judge; infinity in cells that too few sounds reach.
 */
export function usualOf(group: readonly Sketch[]): Float32Array | null {
  if (group.length < LEAST_GROUP) return null;
  const usual = new Float32Array(CELLS * BANDS).fill(Number.POSITIVE_INFINITY);
  const levels = group.map((member) => Math.max(1e-14, levelOf(member)));
  const values = new Float64Array(group.length);
  for (let i = 0; i < usual.length; i++) {
    let n = 0;
    for (const [m, { powers }] of group.entries())
      if (i < powers.length) values[n++] = (powers[i] as number) / (levels[m] as number);
    if (n >= LEAST_GROUP) usual[i] = select(values.subarray(0, n), Math.floor(n * GROUP_SHARE));
  }
  return usual;
}

/** Energy above the group's usual power, and the band that holds most of it. */
function foreignTo(sketch: Sketch, usual: Float32Array): { energy: number; band: number } {
  const scale = levelOf(sketch);
  const bands = new Float64Array(BANDS);
  for (let i = 0; i < sketch.cells * BANDS; i++) {
    const over = (sketch.powers[i] as number) - ALLOWED * scale * (usual[i] as number);
    if (over > 0) bands[i % BANDS] = (bands[i % BANDS] as number) + over * cellSpanSeconds(Math.floor(i / BANDS));
  }
  return { energy: bands.reduce((sum, e) => sum + e, 0), band: bands.indexOf(Math.max(...bands)) };
}

/** Reference level that aligns sketches of one drum: power of the first 200 ms. */
function levelOf({ powers, cells }: Sketch): number {
  let sum = 0;
  for (let i = 0; i < Math.min(cells, 8) * BANDS; i++) sum += powers[i] as number;
  return sum / Math.min(cells, 8);
}
