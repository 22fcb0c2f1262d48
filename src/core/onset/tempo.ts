import type { Candidate } from './detect';

/** A tempo in quarter notes a minute, and how much better than its rivals it explains the strokes, 0..1. */
export interface TempoGuess {
  readonly bpm: number;
  /** Frame of a beat, the first at or after the first stroke. */
  readonly beatFrame: number;
  readonly confidence: number;
}

const SLOWEST = 50;
const FASTEST = 210;
/** Tempi are tried in steps of this ratio. */
const RATIO = 1.004;
const WINDOW_S = 10;
/** Listeners tap near this tempo; a resonance about it decides between a tempo and its double. */
const PREFERRED_BPM = 115;
const PREFERENCE_OCTAVES = 0.7;
/** Harmonics of the beat that are looked at: the beat, its half, thirds and quarters. */
const DIVISIONS = [1, 2, 3, 4];
const WEIGHTS = [1, 1, 0.3, 0.6];

/**
 * Estimates the tempo from when and how strongly strokes were found: the Fourier tempogram of the strokes, taken window by
 * window so that a player who drifts is not averaged away, summed over the beat and its divisions, and weighed by a
 * resonance about the tempo that people tap most readily.
 *
 * Sources: P. Grosche, M. Müller, "Extracting predominant local pulse information from music recordings", IEEE TASLP 19,
 * 2011 (Fourier tempogram of a novelty curve); D. Moelants, "Preferred tempo reconsidered", ICMPC 2002 (the resonance).
 * Null where there are fewer than four strokes.
 */
export function estimateTempo(
  strokes: readonly Candidate[],
  sampleRate: number,
  totalFrames: number,
): TempoGuess | null {
  if (strokes.length < 4) return null;
  const { times, weights } = weighed(strokes, sampleRate);
  const grid: { bpm: number; score: number }[] = [];
  for (let bpm = SLOWEST; bpm <= FASTEST; bpm *= RATIO) grid.push({ bpm, score: scoreOf(bpm, times, weights) });
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

/** A tempo and how likely it is the one that listeners tap, among it, its half and its double. */
export interface TempoShare {
  readonly bpm: number;
  readonly share: number;
}

/** The first beat at or after the first stroke, at a tempo that is known, in frames. */
export function beatFrameAt(bpm: number, strokes: readonly Candidate[], sampleRate: number): number {
  const { times, weights } = weighed(strokes, sampleRate);
  return times.length === 0 ? 0 : Math.round(firstBeat(bpm, times, weights) * sampleRate);
}

/** How sharply the scores of a tempo and its octaves part them: on rendered loops a share is then about how often it is right. */
const OCTAVE_POWER = 4;

/** A tempo with its half and its double, the likeliest first; shares sum to 1. */
export function octaveShares(bpm: number, strokes: readonly Candidate[], sampleRate: number): TempoShare[] {
  const { times, weights } = weighed(strokes, sampleRate);
  const tried = [bpm, bpm / 2, bpm * 2].map((b) => ({ bpm: b, score: scoreOf(b, times, weights) ** OCTAVE_POWER }));
  const all = tried.reduce((sum, { score }) => sum + score, 0) || 1;
  return tried.map((t) => ({ bpm: t.bpm, share: t.score / all })).sort((a, b) => b.share - a.share);
}

/** When strokes stand, in seconds, and how much each counts. */
function weighed(strokes: readonly Candidate[], sampleRate: number): { times: number[]; weights: number[] } {
  return {
    times: strokes.map((c) => c.frame / sampleRate),
    // Loud strokes with something low in them carry the beat; hats between them do not.
    weights: strokes.map((c) => c.strength * Math.max(c.peak, 1e-4) * (0.3 + c.low)),
  };
}

function scoreOf(bpm: number, times: readonly number[], weights: readonly number[]): number {
  const octaves = Math.log2(bpm / PREFERRED_BPM) / PREFERENCE_OCTAVES;
  return Math.exp(-0.5 * octaves * octaves) * pulseOf(bpm, times, weights, WINDOW_S);
}

/** How well strokes stand on a beat of this tempo and its divisions, whatever the phase: means over windows. */
function pulseOf(bpm: number, times: readonly number[], weights: readonly number[], windowS: number): number {
  let sum = 0;
  let total = 0;
  for (let from = 0; from < times.length; ) {
    const start = times[from] as number;
    let to = from;
    let weight = 0;
    const re = [0, 0, 0, 0];
    const im = [0, 0, 0, 0];
    for (; to < times.length && (times[to] as number) < start + windowS; to++) {
      const t = times[to] as number;
      const w = weights[to] as number;
      weight += w;
      for (const [d, division] of DIVISIONS.entries()) {
        const phase = (2 * Math.PI * t * bpm * division) / 60;
        re[d] = (re[d] as number) + w * Math.cos(phase);
        im[d] = (im[d] as number) + w * Math.sin(phase);
      }
    }
    for (const [d, w] of WEIGHTS.entries()) sum += w * Math.hypot(re[d] as number, im[d] as number);
    total += weight;
    from = to;
  }
  return total > 0 ? sum / total : 0;
}

/** The best tempo near one, to a thousandth of a beat a minute: longer windows resolve finer. */
function refined(bpm: number, times: readonly number[], weights: readonly number[]): number {
  let best = bpm;
  for (const [reach, step, windowS] of [
    [0.01, 0.001, 20],
    [0.002, 0.0001, 60],
  ] as const) {
    const centre = best;
    let most = Number.NEGATIVE_INFINITY;
    for (let r = -reach; r <= reach; r += step) {
      const tried = centre * (1 + r);
      const score = pulseOf(tried, times, weights, windowS);
      if (score > most) {
        most = score;
        best = tried;
      }
    }
  }
  return Math.round(best * 1000) / 1000;
}

/** A recording this long or shorter that begins on a stroke may be a loop, trimmed to whole beats. */
const LOOP_S = 30;
const STARTS_AT_S = 0.03;
/** The phase is that of the first beats alone, since a player drifts; a first stroke this near to it, in beats, is the beat. */
const PHASE_BEATS = 5;
const NEAR_BEAT = 0.12;
/** A recording that begins with its first stroke begins with its first bar. */
const AT_ONCE_S = 0.005;

/** A trimmed loop holds a whole number of beats: a tempo within half a percent of that is that (common practice). */
function wholeLoop(bpm: number, times: readonly number[], seconds: number): number {
  if (seconds > LOOP_S || (times[0] as number) > STARTS_AT_S) return bpm;
  const beats = Math.round((seconds * bpm) / 60);
  const exact = (beats * 60) / seconds;
  return beats >= 2 && Math.abs(exact / bpm - 1) < 0.005 ? Math.round(exact * 1000) / 1000 : bpm;
}

/** The phase at which the beats carry the most weight, as the first beat at or after the first stroke. */
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
  // Where the first stroke is on the beat, the first bar begins with it and not beside it.
  if (Math.min(beat - first, first + period - beat) >= NEAR_BEAT * period) return beat;
  return first < AT_ONCE_S ? 0 : first;
}
