import type { Region } from '../onset/split';
import { BANDS, type Sketch } from './sketch';

/** What is needed of a slice to find whose tail rings on in others. */
export interface RingingSlice extends Region {
  readonly sketch: Sketch;
}

/** Slices that start closer together than this are one stroke: neither rings on into the other. */
const APART_S = 0.03;
/**
 * If at least this share of the sound before a slice can be an earlier tail, it is attributed to that one, assuming it
 * fell at this rate in dB a second: two windows hardly give the rate. Set on the tuning kits, where it matters little.
 */
const EARLIER_SHARE = 0.6;
const FALL = 15;

/**
 * For each slice the index of the one whose tail is most likely the loudest at its start, from the spectra just before
 * each: where the sound before the previous slice still makes up most of the power, it is the same tail again, and so
 * on back; otherwise it is the previous slice's. Null where nothing was struck or nothing rings. `slices` of one
 * recording, in any order. Not after a publication; docs/listening.md has its figures.
 */
export function tailSources(slices: readonly RingingSlice[], sampleRate: number): (number | null)[] {
  const order = slices.map((_, i) => i).sort((a, b) => startOf(slices, a) - startOf(slices, b));
  const sources: (number | null)[] = slices.map(() => null);
  let before = -1;
  for (const [place, i] of order.entries()) {
    const at = startOf(slices, i);
    const apart = APART_S * sampleRate;
    // The last slice that starts far enough before this one.
    while (before + 1 < place && startOf(slices, order[before + 1] as number) <= at - apart) before++;
    const j = before < 0 ? undefined : order[before];
    if (j === undefined) continue;
    const now = (slices[i] as RingingSlice).sketch.before;
    const rang = (slices[j] as RingingSlice).sketch.before;
    const fallen = 10 ** ((-FALL * (at - startOf(slices, j))) / sampleRate / 10);
    let [all, old] = [0, 0];
    for (let b = 0; b < BANDS; b++) {
      all += now[b] as number;
      old += Math.min(now[b] as number, fallen * (rang[b] as number));
    }
    if (all <= 0) continue;
    sources[i] = old > EARLIER_SHARE * all ? (sources[j] ?? j) : j;
  }
  return sources;
}

function startOf(slices: readonly Region[], i: number): number {
  return (slices[i] as Region).startFrame;
}
