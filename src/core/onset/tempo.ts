import type { Candidate } from './detect';

/** A tempo in quarter notes a minute, and its salience relative to its rivals, 0..1. */
export interface TempoGuess {
  readonly bpm: number;
  /** Frame of a beat, the first at or after the first stroke. */
  readonly beatFrame: number;
  readonly confidence: number;
}

const SLOWEST = 50;
const FASTEST = 210;
/** Tempi that are tested, evenly spaced, in beats a minute. */
interface Tempi {
  readonly first: number;
  readonly step: number;
  readonly count: number;
}

const TRIED: Tempi = { first: SLOWEST, step: 0.5, count: 2 * (FASTEST - SLOWEST) + 1 };
const WINDOW_S = 10;
/** Listeners tap near this tempo; a resonance about it decides between a tempo and its double. */
const PREFERRED_BPM = 115;
const PREFERENCE_OCTAVES = 0.7;
/** Weights of the beat, its halves, its thirds and its quarters. */
const [WHOLES, HALVES, THIRDS, QUARTERS] = [1, 1, 0.3, 0.6];

/**
 * Estimates the tempo from times and strengths of strokes: the Fourier tempogram of the strokes, in windows, so that
 * a drifting player is not averaged away, summed over the beat and its divisions, and weighted by a resonance around
 * the preferred tempo.
 *
 * Sources: P. Grosche, M. Müller, "Extracting predominant local pulse information from music recordings", IEEE TASLP
 * 19, 2011 (Fourier tempogram of a novelty curve); D. Moelants, "Preferred tempo reconsidered", ICMPC 2002 (the
 * resonance). Null where there are fewer than four strokes.
 */
export function estimateTempo(
  strokes: readonly Candidate[],
  sampleRate: number,
  totalFrames: number,
): TempoGuess | null {
  if (strokes.length < 4) return null;
  const { times, weights } = weighed(strokes, sampleRate);
  const grid = Array.from(pulses(TRIED, times, weights, WINDOW_S), (pulse, k) => {
    const bpm = TRIED.first + k * TRIED.step;
    return { bpm, score: preference(bpm) * pulse };
  });
  const best = grid.reduce((a, b) => (b.score > a.score ? b : a));
  const bpm = wholeLoop(refined(best.bpm, times, weights), times, totalFrames / sampleRate);
  const rivals = grid.filter((g) => Math.abs(Math.log2(g.bpm / best.bpm)) > 0.06);
  const rival = Math.max(...rivals.map((g) => g.score));
  return {
    bpm,
    beatFrame: Math.round(firstBeat(bpm, times, weights) * sampleRate),
    confidence: Math.max(0, Math.min(1, 1 - (rival / best.score) ** 2)),
  };
}

/** Tolerance for two tempi to be equal, or half or double. */
const SAME_TEMPO = 0.03;

/** An estimate, or its half or double where that matches a tempo known from elsewhere. */
export function inOctaveOf(guess: TempoGuess, knownBpm: number): TempoGuess {
  const factor = [1, 0.5, 2].find((f) => Math.abs((guess.bpm * f) / knownBpm - 1) <= SAME_TEMPO) ?? 1;
  return { ...guess, bpm: guess.bpm * factor };
}

/** A tempo and its probability among itself, its half and its double. */
export interface TempoShare {
  readonly bpm: number;
  readonly share: number;
}

/** The first beat at or after the first stroke, at a known tempo, in frames. */
export function beatFrameAt(bpm: number, strokes: readonly Candidate[], sampleRate: number): number {
  const { times, weights } = weighed(strokes, sampleRate);
  return times.length === 0 ? 0 : Math.round(firstBeat(bpm, times, weights) * sampleRate);
}

/**
 * Sharpness of the choice between a tempo and its octaves: on rendered loops a share is then about how often it is
 * right.
 */
const OCTAVE_POWER = 4;

/** A tempo with its half and its double, the likeliest first; shares sum to 1. */
export function octaveShares(bpm: number, strokes: readonly Candidate[], sampleRate: number): TempoShare[] {
  const { times, weights } = weighed(strokes, sampleRate);
  const tried = [bpm, bpm / 2, bpm * 2].map((b) => ({ bpm: b, score: scoreOf(b, times, weights) ** OCTAVE_POWER }));
  const all = tried.reduce((sum, { score }) => sum + score, 0) || 1;
  return tried.map((t) => ({ bpm: t.bpm, share: t.score / all })).sort((a, b) => b.share - a.share);
}

/** Times of strokes in seconds, and their weights. */
function weighed(strokes: readonly Candidate[], sampleRate: number): { times: number[]; weights: number[] } {
  return {
    times: strokes.map((c) => c.frame / sampleRate),
    // Loud low strokes carry the beat; hats between them do not.
    weights: strokes.map((c) => c.strength * Math.max(c.peak, 1e-4) * (0.3 + c.low)),
  };
}

function scoreOf(bpm: number, times: readonly number[], weights: readonly number[]): number {
  const [pulse] = pulses({ first: bpm, step: 0, count: 1 }, times, weights, WINDOW_S);
  return preference(bpm) * (pulse as number);
}

/** The resonance around the tempo that people prefer to tap. */
function preference(bpm: number): number {
  const octaves = Math.log2(bpm / PREFERRED_BPM) / PREFERENCE_OCTAVES;
  return Math.exp(-0.5 * octaves * octaves);
}

/**
 * How well strokes match a beat of each tempo and its divisions, whatever the phase: means over windows. Phases of
 * strokes are advanced from tempo to tempo by multiplication: a sine takes as long as twenty of these.
 */
function pulses(
  { first, step, count }: Tempi,
  times: readonly number[],
  weights: readonly number[],
  windowS: number,
): Float64Array {
  const sums = new Float64Array(count);
  const parts = Array.from({ length: 8 }, () => new Float64Array(count));
  const [re1, im1, re2, im2, re3, im3, re4, im4] = parts as [...Four, ...Four];
  let total = 0;
  for (let from = 0; from < times.length; ) {
    const start = times[from] as number;
    for (const part of parts) part.fill(0);
    let to = from;
    for (; to < times.length && (times[to] as number) < start + windowS; to++) {
      // Only relative phases matter: small angles are more exact.
      const turn = (2 * Math.PI * ((times[to] as number) - start)) / 60;
      const w = weights[to] as number;
      total += w;
      let [c, s] = [Math.cos(turn * first), Math.sin(turn * first)];
      const [onC, onS] = [Math.cos(turn * step), Math.sin(turn * step)];
      for (let k = 0; k < count; k++) {
        const c2 = c * c - s * s;
        const s2 = 2 * c * s;
        re1[k] = (re1[k] as number) + w * c;
        im1[k] = (im1[k] as number) + w * s;
        re2[k] = (re2[k] as number) + w * c2;
        im2[k] = (im2[k] as number) + w * s2;
        re3[k] = (re3[k] as number) + w * (c2 * c - s2 * s);
        im3[k] = (im3[k] as number) + w * (c2 * s + s2 * c);
        re4[k] = (re4[k] as number) + w * (c2 * c2 - s2 * s2);
        im4[k] = (im4[k] as number) + w * (2 * c2 * s2);
        const next = c * onC - s * onS;
        s = c * onS + s * onC;
        c = next;
      }
    }
    const amount = (re: Float64Array, im: Float64Array, k: number) => Math.hypot(re[k] as number, im[k] as number);
    for (let k = 0; k < count; k++) {
      const plain = WHOLES * amount(re1, im1, k) + HALVES * amount(re2, im2, k);
      sums[k] = (sums[k] as number) + plain + THIRDS * amount(re3, im3, k) + QUARTERS * amount(re4, im4, k);
    }
    from = to;
  }
  return total > 0 ? sums.map((sum) => sum / total) : sums;
}

type Four = [Float64Array, Float64Array, Float64Array, Float64Array];

/** The best tempo near one, to 0.001 beats a minute: longer windows resolve finer. */
function refined(bpm: number, times: readonly number[], weights: readonly number[]): number {
  let best = bpm;
  for (const [reach, step, windowS] of [
    [0.01, 0.001, 20],
    [0.002, 0.0001, 60],
  ] as const) {
    const tempi: Tempi = {
      first: best * (1 - reach),
      step: best * step,
      count: 2 * Math.round(reach / step) + 1,
    };
    const found = pulses(tempi, times, weights, windowS);
    const most = found.indexOf(Math.max(...found));
    best = tempi.first + most * tempi.step;
  }
  return Math.round(best * 1000) / 1000;
}

/** A recording up to this long that begins on a stroke may be a loop trimmed to whole beats. */
const LOOP_S = 30;
const STARTS_AT_S = 0.03;
/** The phase is that of the first beats, because a player drifts; a first stroke this close to a beat is the beat. */
const PHASE_BEATS = 5;
const NEAR_BEAT = 0.12;
/** A recording that begins with its first stroke begins with its first bar. */
const AT_ONCE_S = 0.005;

/**
 * A trimmed loop holds a whole number of beats: a tempo within half a percent of that is corrected to it (common
 * practice).
 */
function wholeLoop(bpm: number, times: readonly number[], seconds: number): number {
  if (seconds > LOOP_S || (times[0] as number) > STARTS_AT_S) return bpm;
  const beats = Math.round((seconds * bpm) / 60);
  const exact = (beats * 60) / seconds;
  return beats >= 2 && Math.abs(exact / bpm - 1) < 0.005 ? Math.round(exact * 1000) / 1000 : bpm;
}

/** The phase at which the beats have the greatest weight, as the first beat at or after the first stroke. */
function firstBeat(bpm: number, times: readonly number[], weights: readonly number[]): number {
  const period = 60 / bpm;
  const first = times[0] as number;
  const inFirst = times.findIndex((t) => t > first + PHASE_BEATS * period);
  const heard = times.slice(0, inFirst < 0 ? times.length : inFirst);
  let best = first;
  let most = Number.NEGATIVE_INFINITY;
  for (const candidate of heard) {
    let sum = 0;
    for (const [i, t] of heard.entries()) {
      const off = (t - candidate) / period;
      const distance = Math.abs(off - Math.round(off)) * period;
      sum += (weights[i] as number) * Math.exp(-0.5 * (distance / 0.02) ** 2);
    }
    if (sum > most) {
      most = sum;
      best = candidate;
    }
  }
  const beat = best - Math.floor((best - first) / period + 1e-6) * period;
  // Where the first stroke is on the beat, the first bar begins with it.
  if (Math.min(beat - first, first + period - beat) >= NEAR_BEAT * period) return beat;
  return first < AT_ONCE_S ? 0 : first;
}
