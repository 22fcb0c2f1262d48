import { detectOnsets } from '../../src/core/onset/detect';
import { energySteps } from '../../src/core/onset/energy';
import { selectOnsets, slicesFromOnsets } from '../../src/core/onset/select';
import { diesAwayAt, packLevels, splitBySilence, suggestThreshold } from '../../src/core/onset/silence';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { seededRandom } from '../../src/core/signal/random';
import { RATE, renderNotes } from './fluid';
import { normalNumbers } from './learning';
import { DRUMS, type Note } from './patterns';
import { quantile } from './score';

/** Takes of single strokes in room tone of known level: where each tail falls into it is known from the stroke alone. */

export const NOISES = ['white', 'pink', 'rumble', 'hum and hiss'] as const;
type Noise = (typeof NOISES)[number];
export const ROOM_DB = [-60, -50, -40, -32, -25] as const;

export interface Take {
  readonly name: string;
  readonly samples: Float32Array;
  /** Frames of the strokes, and where each has fallen to the level of the room. */
  readonly strokes: readonly { readonly onset: number; readonly end: number }[];
}

/** Keys of the GM percussion key map (MIDI Association RP-003): drums short and long, cymbals, small percussion. */
const KEYS = [35, 36, 38, 40, 37, 41, 45, 50, 42, 46, 49, 51, 54, 56, 60, 64, 69, 75, 76];
const STROKES = 14;
/** A stroke is asked for where its peak stands this far over the room. */
const CLEAR_DB = 12;
const SMOOTH_S = 0.02;

/** One take for each room, of strokes at changing distances: many follow before the last has rung out. */
export function makeTakes(name: string, fonts: readonly string[], seed: number, folder: string): Take[] {
  const random = seededRandom(seed * 31 + 5);
  const tickS = 60 / 120 / 480;
  let at = 0.4;
  const notes = Array.from({ length: STROKES }, (): Note => {
    const key = KEYS[Math.floor(random() * KEYS.length)] as number;
    const note = {
      tick: Math.round(at / tickS),
      key,
      velocity: 60 + Math.floor(random() * 67),
      channel: DRUMS,
      lengthTicks: 60,
    };
    at += 0.35 + 2.2 * random() ** 2;
    return note;
  });
  const seconds = at + 1.5;
  const alone = notes.map((note) => renderNotes(fonts, [note], 120, seconds, folder));
  const dry = new Float32Array(alone[0]?.length ?? 0);
  for (const part of alone) for (let i = 0; i < dry.length; i++) dry[i] = (dry[i] as number) + (part[i] as number);
  let peak = 0;
  for (const x of dry) peak = Math.max(peak, Math.abs(x));
  const gain = 0.7 / peak;
  return ROOM_DB.flatMap((roomDb, r) =>
    NOISES.flatMap((noise, n): Take[] => {
      if ((r + n + seed) % 2 === 1) return [];
      const room = roomTone(noise, dry.length, roomDb, seed * 100 + r * 10 + n);
      const samples = dry.map((x, i) => gain * x + (room[i] as number));
      const power = 10 ** (roomDb / 10);
      const strokes = alone.flatMap((part, i) => {
        const onset = firstOver(part, 0.01);
        const end = fallsUnder(part, power / gain ** 2);
        const next = notes[i + 1] ? firstOver(alone[i + 1] as Float32Array, 0.01) : samples.length;
        return end === null || end > next - 0.02 * RATE ? [] : [{ onset, end }];
      });
      return [{ name: `${name} ${seed}, ${noise} at ${roomDb} dBFS`, samples, strokes }];
    }),
  );
}

function firstOver(samples: Float32Array, share: number): number {
  let peak = 0;
  for (const x of samples) peak = Math.max(peak, Math.abs(x));
  return samples.findIndex((x) => Math.abs(x) > peak * share);
}

/** The last frame at which the mean square over 20 ms is at least `power`; null where it never stands clear of it. */
function fallsUnder(samples: Float32Array, power: number): number | null {
  const half = Math.round((SMOOTH_S * RATE) / 2);
  const sums = new Float64Array(samples.length + 1);
  for (let i = 0; i < samples.length; i++) sums[i + 1] = (sums[i] as number) + (samples[i] as number) ** 2;
  let most = 0;
  let last = 0;
  for (let i = half; i < samples.length - half; i++) {
    const mean = ((sums[i + half] as number) - (sums[i - half] as number)) / (2 * half);
    most = Math.max(most, mean);
    if (mean >= power) last = i;
  }
  return most > power * 10 ** (CLEAR_DB / 10) ? last : null;
}

/** Room tone of a root mean square of `db` dBFS. */
function roomTone(kind: Noise, length: number, db: number, seed: number): Float32Array {
  const normal = normalNumbers(seededRandom(seed));
  const out = new Float32Array(length);
  const rows = new Float64Array(12);
  let low = 0;
  for (let i = 0; i < length; i++) {
    const white = normal();
    if (kind === 'white') out[i] = white;
    else if (kind === 'rumble') {
      // One pole at 100 Hz.
      low += 0.0141 * (white - low);
      out[i] = low;
    } else if (kind === 'pink') {
      // The rows of R. Voss and J. Clarke, J. Acoust. Soc. Am. 63, 1978, one for each power of two.
      const row = Math.min(rows.length - 1, Math.clz32((i & -i) >>> 0) === 32 ? 0 : 31 - Math.clz32(i & -i));
      rows[row] = white;
      out[i] = rows.reduce((a, b) => a + b, 0);
    } else {
      const t = (2 * Math.PI * 50 * i) / RATE;
      out[i] = 1.2 * Math.sin(t) + 0.5 * Math.sin(2 * t + 1) + 0.3 * Math.sin(3 * t + 2) + 0.25 * white;
    }
  }
  const rms = Math.sqrt(out.reduce((sum, x) => sum + x * x, 0) / length);
  const gain = 10 ** (db / 20) / rms;
  return out.map((x) => x * gain);
}

const NEAR_S = 0.03;

export interface TailError {
  readonly take: string;
  readonly lengthMs: number;
  /** End as an attack split sets it, and as "until it dies away" does, against the true one. */
  readonly splitMs: number;
  readonly diesAwayMs: number;
}

/** How far the ends of slices lie from the true ones; strokes that were not found are left out and counted elsewhere. */
export function tailErrors({ name, samples, strokes }: Take): TailError[] {
  const candidates = detectOnsets(samples, RATE);
  const onsets = selectOnsets(candidates, {}, RATE);
  const slices = slicesFromOnsets(onsets, samples.length);
  const levels = packLevels(energySteps(samples, RATE));
  return strokes.flatMap(({ onset, end }) => {
    const slice = slices.find((s) => Math.abs(s.startFrame - onset) < NEAR_S * RATE);
    if (!slice) return [];
    // Marked by hand a little beside the candidate, so that the levels tell.
    const died = diesAwayAt(slice.startFrame + Math.round(0.015 * RATE), candidates, levels, RATE, samples.length);
    const next = slices.find((s) => s.startFrame > slice.startFrame)?.startFrame ?? samples.length;
    const ms = (frame: number) => ((frame - end) / RATE) * 1000;
    const lengthMs = ((end - onset) / RATE) * 1000;
    return [{ take: name, lengthMs, splitMs: ms(slice.endFrame), diesAwayMs: ms(Math.min(next, died)) }];
  });
}

const SHARE = 0.2;
const LEAST_MS = 30;

export function tailFigures(errors: readonly TailError[], which: 'splitMs' | 'diesAwayMs') {
  const good = (e: TailError) => Math.abs(e[which]) <= Math.max(LEAST_MS, SHARE * e.lengthMs);
  return {
    count: errors.length,
    within: errors.filter(good).length / errors.length,
    medianMs: quantile(
      errors.map((e) => Math.abs(e[which])),
      0.5,
    ),
    latest: Math.max(...errors.map((e) => e[which])),
    earliest: Math.min(...errors.map((e) => e[which])),
  };
}

/** A sound begins on a stroke where it starts this near to it. */
const ON_STROKE_S = 0.005;

/**
 * How far starts found at silence that lie on strokes move when the threshold is lowered by 2 dB, in ms. A sound that has
 * become one with the one before has no start of its own any more and is left out.
 */
export function startMoves({ name, samples, strokes }: Take): { take: string; ms: number }[] {
  const levels = packLevels(energySteps(samples, RATE));
  const candidates = detectOnsets(samples, RATE);
  const suggested = suggestThreshold(levels);
  const startsAt = (thresholdDb: number) =>
    splitBySilence(levels, candidates, { ...SPLIT_INITIAL, thresholdDb }, RATE, samples.length).map(
      (region) => region.startFrame,
    );
  const higher = startsAt(suggested);
  const lower = startsAt(suggested - 2);
  return higher.flatMap((start, i) => {
    if (!strokes.some(({ onset }) => Math.abs(onset - start) < ON_STROKE_S * RATE)) return [];
    const [from, to] = [higher[i - 1] ?? Number.NEGATIVE_INFINITY, higher[i + 1] ?? Number.POSITIVE_INFINITY];
    const own = lower.filter((other) => other > from + NEAR_S * RATE && other < to);
    const moved = Math.min(...own.map((other) => Math.abs(other - start)));
    return Number.isFinite(moved)
      ? [{ take: `${name} at ${(start / RATE).toFixed(3)} s`, ms: (moved / RATE) * 1000 }]
      : [];
  });
}
