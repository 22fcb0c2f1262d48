import type { Region } from '../onset/split';
import { BANDS, type Sketch } from './sketch';

/** A slice as the tails that ring on in others are told by it. */
export interface RingingSlice extends Region {
  readonly sketch: Sketch;
}

/** Slices that start nearer to one another than this are struck as one: neither rings on into the other. */
const APART_S = 0.03;
/**
 * From this share on of what sounds just before a slice the tail is an earlier one's than the one before, and it is taken to have fallen
 * so slowly since, in dB a second: how fast it falls there is hardly told by two windows. Set on the tuning kits, where it matters little.
 */
const EARLIER_SHARE = 0.6;
const FALL = 15;

/**
 * For each slice the place of the one whose tail is likeliest to be loudest at its start, by the spectra of what sounds just before each:
 * where what rang on before the slice before makes up most of the power still, it is that one's tail again, and so on back; else the
 * slice before's. Null where nothing was struck or nothing rings. `slices` of one recording, in any order; not after a
 * publication, its figures are in docs/listening.md.
 */
export function tailSources(slices: readonly RingingSlice[], sampleRate: number): (number | null)[] {
  const order = slices.map((_, i) => i).sort((a, b) => startOf(slices, a) - startOf(slices, b));
  const sources: (number | null)[] = slices.map(() => null);
  let before = -1;
  for (const [place, i] of order.entries()) {
    const at = startOf(slices, i);
    const apart = APART_S * sampleRate;
    // The last of those that start far enough before it.
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
