import { spectraOf } from '../kernel/spectra';
import { HIGHEST_HZ, LOWEST_HZ, periodOf, type Root } from './period';

const WINDOW_S = 0.09;
const HOP_S = 0.045;
const MOST_WINDOWS = 4;
/** The first part of a strike sweeps and clatters; the pitch that is heard is the one it settles on. */
const SKIP_S = 0.03;
/** Windows further under the loudest than this say nothing. */
const FAR_UNDER_DB = 36;
const LEAST_CLARITY = 0.75;
/** Two pitches nearer than this are the same, differently well told. */
const SAME_OCTAVES = 0.15;
/** Windows that differ by less than this, a quarter of a semitone, are of one pitch. */
const ALIKE_OCTAVES = 0.02;
/** Lower down a spectrum's bins are too wide for it. */
const EXACT_FROM_HZ = 60;

/**
 * The pitch a sound settles on, or null where there is none to speak of: the normalised square difference function over
 * several windows (P. McLeod, G. Wyvill, "A smarter way to find pitch", ICMC 2005), and the pitch that most of the windows
 * share. Drums and bars have partials that are no multiples of the lowest, and some of them together repeat at a period at
 * which nothing sounds (two partials in the ratio 2:3, as kettledrums have them: T. Rossing, "The physics of kettledrums",
 * Scientific American 247, 1982); so a root must be a partial that is there.
 */
export function rootOf(samples: Float32Array, sampleRate: number): Root | null {
  const size = Math.round(WINDOW_S * sampleRate);
  const found: (Root & { readonly weight: number })[] = [];
  const skip = samples.length > 3 * size ? Math.round(SKIP_S * sampleRate) : 0;
  const room = samples.length - size - skip;
  if (room < 0) return null;
  const hop = Math.round(HOP_S * sampleRate);
  const starts = Array.from({ length: Math.min(MOST_WINDOWS, 1 + Math.floor(room / hop)) }, (_, i) => skip + i * hop);
  const power = starts.map((at) => energyOf(samples, at, at + size));
  const loudest = Math.max(...power);
  if (loudest === 0) return null;
  for (const [i, at] of starts.entries()) {
    if ((power[i] as number) < loudest * 10 ** (-FAR_UNDER_DB / 10)) continue;
    const period = periodOf(samples.subarray(at, at + size), sampleRate);
    // Later windows have less of the sweep that a strike begins with.
    if (period) found.push({ ...period, weight: period.clarity ** 4 * (power[i] as number) ** 0.25 });
  }
  const repeating = shared(found);
  const lasting = lastingPartial(samples, sampleRate);
  if (!repeating || !lasting) return repeating ?? lasting;
  // Where both speak of the same pitch, the partial tells it more exactly: stretched partials pull the period off it.
  const same = lasting.hz > EXACT_FROM_HZ && Math.abs(Math.log2(lasting.hz / repeating.hz)) < SAME_OCTAVES;
  return same ? { hz: lasting.hz, clarity: Math.max(lasting.clarity, repeating.clarity) } : repeating;
}

/** A bar's or a bell's higher partials, no multiples of the lowest, die away first: what is left after so long is its pitch. */
const LASTING_FROM_S = [0.12, 0.3, 0.6] as const;
const LASTING_S = 0.186;
/** Share of the power that one partial must have then, for it to be heard as the pitch. */
const LEAST_SHARE = 0.4;
/** What has fallen further than this since the first of these is left to the room. */
const MOST_FALLEN_DB = 40;
/** Bins to either side of a peak that its window spreads it over. */
const SPREAD = 3;

/**
 * The partial that lasts, where a sound does not repeat (N. Fletcher, T. Rossing, "The physics of musical instruments", 1998, section
 * 19.3: of struck bars the fundamental decays slowest): of the highest of spectra at several times the lowest, for it is no partial of
 * one that lies higher.
 */
function lastingPartial(samples: Float32Array, sampleRate: number): Root | null {
  const size = 2 ** Math.round(Math.log2(LASTING_S * sampleRate));
  const starts = LASTING_FROM_S.map((s) => Math.round(s * sampleRate)).filter((at) => at + size <= samples.length);
  const earliest = starts[0];
  if (earliest === undefined) return null;
  const least = energyOf(samples, earliest, earliest + size) * 10 ** (-MOST_FALLEN_DB / 10);
  const sounding = starts.filter((at) => energyOf(samples, at, at + size) >= least);
  const bin = sampleRate / size;
  const partials = spectraOf(size).of(samples, (pair) => {
    const found: Root[] = [];
    for (let i = 0; i < sounding.length; i += 2) {
      const first = sounding[i] as number;
      const second = sounding[i + 1];
      const [a, b] = pair(first, second ?? first);
      found.push(...highestPartial(a, bin), ...(second === undefined ? [] : highestPartial(b, bin)));
    }
    return found;
  });
  return partials.length === 0 ? null : partials.reduce((a, b) => (b.hz < a.hz ? b : a));
}

/** The highest peak of a spectrum, where it has most of the power; its place by a parabola through logarithms. */
function highestPartial(magnitudes: Float32Array, bin: number): Root[] {
  const bins = magnitudes.length;
  const power = (k: number) => (magnitudes[k] as number) ** 2;
  const first = Math.max(SPREAD + 1, Math.round(LOWEST_HZ / bin));
  const last = Math.min(bins - SPREAD - 2, Math.round(HIGHEST_HZ / bin));
  let best = first;
  for (let k = first; k <= last; k++) if (power(k) > power(best)) best = k;
  let all = 0;
  for (let k = 1; k < bins; k++) all += power(k);
  let own = 0;
  for (let k = best - SPREAD; k <= best + SPREAD; k++) own += power(k);
  const share = all > 0 ? own / all : 0;
  if (share < LEAST_SHARE) return [];
  const level = (k: number) => Math.log(power(k) + 1e-30);
  const [l, m, r] = [level(best - 1), level(best), level(best + 1)];
  // The edge of what is looked at is no peak.
  if (m < l || m <= r) return [];
  return [{ hz: (best + (0.5 * (l - r)) / (l - 2 * m + r)) * bin, clarity: share }];
}

/** The weighted median of pitches, told only where most of the weight lies near it. */
function shared(found: readonly (Root & { readonly weight: number })[]): Root | null {
  if (found.length === 0) return null;
  const rising = [...found].sort((a, b) => a.hz - b.hz);
  const whole = rising.reduce((sum, f) => sum + f.weight, 0);
  let sum = 0;
  const middle = rising.find((f) => {
    sum += f.weight;
    return sum >= whole / 2;
  }) as Root;
  const near = rising.filter((f) => Math.abs(Math.log2(f.hz / middle.hz)) < 1 / 12);
  const weight = near.reduce((s, f) => s + f.weight, 0);
  const clarity = (near.reduce((s, f) => s + f.clarity * f.weight, 0) / weight) * (weight / whole);
  if (clarity < LEAST_CLARITY) return null;
  // Of a low tone a window holds few periods, and tells it a little high or low by where in one it begins: the mean of all is nearer.
  const alike = near.filter((f) => Math.abs(Math.log2(f.hz / middle.hz)) < ALIKE_OCTAVES);
  const mean = alike.reduce((s, f) => s + f.weight * f.hz, 0) / alike.reduce((s, f) => s + f.weight, 0);
  return { hz: mean, clarity };
}

function energyOf(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (samples[i] as number) ** 2;
  return sum;
}
