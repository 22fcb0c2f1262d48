import { spectraOf } from '../kernel/spectra';
import { HIGHEST_HZ, LOWEST_HZ, periodOf, type Root } from './period';

const WINDOW_S = 0.09;
const HOP_S = 0.045;
const MOST_WINDOWS = 4;
/** The first part of a strike sweeps and is noisy; the perceived pitch is the one it settles on. */
const SKIP_S = 0.03;
/** Windows more than this under the loudest are ignored. */
const FAR_UNDER_DB = 36;
const LEAST_CLARITY = 0.75;
/** Pitches closer than this are one pitch with different errors. */
const SAME_OCTAVES = 0.15;
/** Windows that differ by less than a quarter of a semitone share a pitch. */
const ALIKE_OCTAVES = 0.02;
/** Below this a spectrum's bins are too wide. */
const EXACT_FROM_HZ = 60;

/**
 * The pitch a sound settles on, or null where it has none: the normalised square difference function over several
 * windows (P. McLeod, G. Wyvill, "A smarter way to find pitch", ICMC 2005), and the pitch most windows share. Drums and
 * bars have inharmonic partials, some of which together repeat at a period where nothing sounds (two partials in the
 * ratio 2:3 in kettledrums: T. Rossing, "The physics of kettledrums", Scientific American 247, 1982); so a root must be
 * a partial that is present.
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
    // Later windows contain less of the sweep at the beginning of a strike.
    if (period) found.push({ ...period, weight: period.clarity ** 4 * (power[i] as number) ** 0.25 });
  }
  const repeating = shared(found);
  const lasting = lastingPartial(samples, sampleRate);
  if (!repeating || !lasting) return repeating ?? lasting;
  // Where both agree on the pitch, the partial is more exact: inharmonic partials pull the period off it.
  const same = lasting.hz > EXACT_FROM_HZ && Math.abs(Math.log2(lasting.hz / repeating.hz)) < SAME_OCTAVES;
  return same ? { hz: lasting.hz, clarity: Math.max(lasting.clarity, repeating.clarity) } : repeating;
}

/** The higher, inharmonic partials of a bar or a bell die away first: what remains after this time is its pitch. */
const LASTING_FROM_S = [0.12, 0.3, 0.6] as const;
const LASTING_S = 0.186;
/** Share of the power that one partial must have by then to be perceived as the pitch. */
const LEAST_SHARE = 0.4;
/** Power that has fallen further than this counts as room. */
const MOST_FALLEN_DB = 40;
/** Bins on either side of a peak that its window spreads it over. */
const SPREAD = 3;

/**
 * The partial that lasts, where a sound is not periodic (N. Fletcher, T. Rossing, "The physics of musical instruments",
 * 1998, section 19.3: in struck bars the fundamental decays slowest). Of the highest peaks of several spectra over
 * time, the lowest: it cannot be a partial of a higher one.
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

/** The highest peak of a spectrum, where it holds most of the power; refined by a parabola through logarithms. */
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
  // The edge of the range is not a peak.
  if (m < l || m <= r) return [];
  return [{ hz: (best + (0.5 * (l - r)) / (l - 2 * m + r)) * bin, clarity: share }];
}

/** Weighted median of pitches, or null where most of the weight does not lie near it. */
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
  // A window holds few periods of a low tone, and its error depends on the phase at its start: the mean of all windows
  // is nearer.
  const alike = near.filter((f) => Math.abs(Math.log2(f.hz / middle.hz)) < ALIKE_OCTAVES);
  const mean = alike.reduce((s, f) => s + f.weight * f.hz, 0) / alike.reduce((s, f) => s + f.weight, 0);
  return { hz: mean, clarity };
}

function energyOf(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (samples[i] as number) ** 2;
  return sum;
}
