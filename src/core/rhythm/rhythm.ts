import { TOLD_FAMILIES, type ToldFamily } from '../describe/family';
import type { Hearing, ListenedSlice } from '../describe/hearing';
import type { Candidate } from '../onset/detect';
import { beatFrameAt, estimateTempo, octaveShares, type TempoShare } from '../onset/tempo';

/** One stroke of a rhythm. */
export interface RhythmNote {
  /** Frame of the recording at which it was struck. */
  readonly frame: number;
  /** Quarter notes after the first downbeat; below 0 before it. */
  readonly quarters: number;
  /** The shelf whose drum was struck, by its place among the shelves. */
  readonly group: number;
  /** 0..1: its peak against the loudest stroke's, as amplitudes. */
  readonly velocity: number;
}

/** What was struck when and how hard in a recording. */
export interface Rhythm {
  readonly notes: readonly RhythmNote[];
  /** Quarter notes a minute; null where neither a person said nor anything could be told. */
  readonly bpm: number | null;
  /** 0..1; 1 where a person said so. */
  readonly bpmConfidence: number;
  /** The tempo, its half and its double, the likeliest first; shares sum to 1. */
  readonly octaves: readonly TempoShare[];
  /** Frame of the first downbeat. */
  readonly downbeatFrame: number;
  readonly downbeatConfidence: number;
  readonly beats: number;
  readonly beatUnit: number;
}

/** A stroke as slices tell it. */
export interface Stroke {
  readonly frame: number;
  readonly group: number;
  readonly peakDb: number;
  /** Probabilities of `TOLD_FAMILIES`. */
  readonly families: ArrayLike<number>;
}

/**
 * The strokes of a recording whose slices were heard, in the order of time; groups are counted as the shelves stand. `isOwn` tells
 * its slices from those of others that were heard with them.
 */
export function strokesHeard(
  slices: readonly ListenedSlice[],
  { shelves }: Hearing,
  isOwn: (index: number) => boolean = () => true,
): Stroke[] {
  return shelves
    .flatMap(({ members }, group) =>
      members.flatMap((i): Stroke[] => {
        const slice = slices[i];
        if (!slice || !isOwn(i)) return [];
        return [{ frame: slice.startFrame, group, peakDb: slice.figures.peakDb, families: slice.chances.main }];
      }),
    )
    .sort((a, b) => a.frame - b.frame);
}

/** What a person has said of a recording's time; null where nothing. */
export interface SaidTime {
  readonly tempoBpm: number | null;
  readonly downbeatFrame: number | null;
  readonly beats: number;
  readonly beatUnit: number;
}

/**
 * The rhythm of a recording: strokes by group, and the time they stand in, as a person has said or as it is estimated. `onsets` are
 * the recording's, by which the tempo is told.
 */
export function rhythmOf(
  strokes: readonly Stroke[],
  onsets: readonly Candidate[],
  said: SaidTime,
  sampleRate: number,
  totalFrames: number,
): Rhythm {
  const { beats, beatUnit } = said;
  const guess = estimateTempo(onsets, sampleRate, totalFrames);
  const near = said.tempoBpm ?? guess?.bpm ?? null;
  const octaves = near === null ? [] : octavesHeard(octaveShares(near, onsets, sampleRate), strokes, sampleRate);
  const bpm = said.tempoBpm ?? octaves[0]?.bpm ?? null;
  const loudest = strokes.reduce((most, { peakDb }) => Math.max(most, peakDb), Number.NEGATIVE_INFINITY);
  const quarter = bpm === null ? null : (60 / bpm) * sampleRate;
  const found =
    bpm === null || quarter === null
      ? null
      : downbeatOf(strokes, beatFrameAt(bpm, onsets, sampleRate), (quarter * 4) / beatUnit, beats);
  const downbeatFrame = said.downbeatFrame ?? found?.frame ?? strokes[0]?.frame ?? 0;
  return {
    notes: strokes.map(({ frame, group, peakDb }) => ({
      frame,
      quarters: quarter === null ? 0 : (frame - downbeatFrame) / quarter,
      group,
      velocity: Number.isFinite(loudest) ? 10 ** ((peakDb - loudest) / 20) : 0,
    })),
    bpm,
    bpmConfidence: said.tempoBpm !== null ? 1 : (octaves[0]?.share ?? 0) * regularity(strokes, bpm ?? 0, sampleRate),
    octaves,
    downbeatFrame,
    downbeatConfidence: said.downbeatFrame !== null ? 1 : (found?.confidence ?? 0),
    beats,
    beatUnit,
  };
}

/** Strokes that stand this well on the quarters of a beat are played in time, and those under the other not at all. */
const IN_TIME = 0.75;
const OUT_OF_TIME = 0.5;
const WINDOW_S = 10;

/** 0..1: whether strokes are played in a tempo at all: how nearly they share a phase of a quarter of its beat, ten seconds at a time. */
function regularity(strokes: readonly Stroke[], bpm: number, sampleRate: number): number {
  const radians = (2 * Math.PI * 4 * bpm) / 60 / sampleRate;
  const windows = new Map<number, { re: number; im: number; n: number }>();
  for (const { frame } of strokes) {
    const at = Math.floor(frame / (WINDOW_S * sampleRate));
    const { re, im, n } = windows.get(at) ?? { re: 0, im: 0, n: 0 };
    windows.set(at, { re: re + Math.cos(radians * frame), im: im + Math.sin(radians * frame), n: n + 1 });
  }
  const shared =
    [...windows.values()].reduce((sum, { re, im }) => sum + Math.hypot(re, im), 0) / Math.max(1, strokes.length);
  return Math.max(0, Math.min(1, (shared - OUT_OF_TIME) / (IN_TIME - OUT_OF_TIME)));
}

/** So many times likelier is a tempo in which low drums and snares take turns than one in which they fall together, as a power of e. */
const TURNS = 4;

/**
 * A tempo, its half and its double, weighed by whether low drums and snares take turns from beat to beat: over two beats of the right
 * tempo the one stands opposite the other (common practice: the backbeat).
 */
function octavesHeard(octaves: readonly TempoShare[], strokes: readonly Stroke[], sampleRate: number): TempoShare[] {
  const weighed = octaves.map(({ bpm, share }) => {
    const [low, answer] = [LOW, ANSWER].map((families) =>
      phasor(strokes, families, (bpm / 120 / sampleRate) * 2 * Math.PI),
    );
    if (!low || !answer) return { bpm, share };
    const together = low.re * answer.re + low.im * answer.im;
    return { bpm, share: share * Math.exp(-TURNS * together) };
  });
  const all = weighed.reduce((sum, { share }) => sum + share, 0) || 1;
  return weighed.map(({ bpm, share }) => ({ bpm, share: share / all })).sort((a, b) => b.share - a.share);
}

const LOW: readonly ToldFamily[] = ['kick'];
const ANSWER: readonly ToldFamily[] = ['snare', 'clap'];

/** Where in a turn of `radians` a frame strokes of some families stand, in the mean, 0..1 long; null where there are none. */
function phasor(
  strokes: readonly Stroke[],
  families: readonly ToldFamily[],
  radians: number,
): { re: number; im: number } | null {
  let [re, im, all] = [0, 0, 0];
  for (const { frame, peakDb, families: chances } of strokes) {
    const chance = families.reduce((sum, family) => sum + (chances[TOLD_FAMILIES.indexOf(family)] as number), 0);
    const weight = chance * 10 ** (peakDb / 20);
    re += weight * Math.cos(radians * frame);
    im += weight * Math.sin(radians * frame);
    all += weight;
  }
  return all > 1e-6 ? { re: re / all, im: im / all } : null;
}

/**
 * How much a drum speaks for the beat it is on being the first of its bar, an even bar's middle, the last, or another: low drums
 * and cymbals begin bars, snares and claps answer them, toms lead up to the next (common practice; the like evidence in M. Goto, "An
 * audio-based real-time beat tracking system for music with or without drum-sounds", Journal of New Music Research 30, 2001, section 3.3).
 */
const SPEAKS: Partial<Record<ToldFamily, readonly [first: number, middle: number, last: number, other: number]>> = {
  kick: [1, 0.6, -0.5, -0.5],
  cymbal: [1.5, 0, -0.5, -0.5],
  snare: [-0.8, -0.5, 0.5, 0.5],
  clap: [-0.8, -0.5, 0.5, 0.5],
  rim: [-0.4, -0.2, 0.2, 0.2],
  tom: [-0.6, -0.2, 0.6, 0],
};
/** Beats are met within this share of one. */
const NEAR_BEAT = 0.12;
/** Recordings likeliest begin with a bar: that counts as so much evidence. */
const BEGINS = 1;
/** So much evidence makes one beat e times likelier to be the first than another. */
const EVIDENCE = 0.7;

/**
 * Where the first bar begins, by what is struck on each beat of the bar over the whole recording. The beat that was found may be the
 * place between two: both are tried.
 */
function downbeatOf(
  strokes: readonly Stroke[],
  beatFrame: number,
  beatFrames: number,
  beats: number,
): { frame: number; confidence: number } | null {
  const first = strokes[0];
  if (!first || beats < 1) return null;
  const inside = (beat: number) => ((beat % beats) + beats) % beats;
  const tried = [beatFrame, beatFrame - beatFrames / 2].flatMap((origin) => {
    const begin = Math.round((first.frame - origin) / beatFrames);
    const begins = Math.abs(first.frame - origin - begin * beatFrames) <= NEAR_BEAT * beatFrames;
    return Array.from(evidenceFor(strokes, origin, beatFrames, beats), (evidence, one) => ({
      frame: origin + (begin + inside(one - begin)) * beatFrames,
      score: evidence * EVIDENCE + (begins && one === inside(begin) ? BEGINS : 0),
    }));
  });
  const best = tried.reduce((a, b) => (b.score > a.score ? b : a));
  const all = tried.reduce((sum, { score }) => sum + Math.exp(score - best.score), 0);
  return { frame: Math.max(0, Math.round(best.frame)), confidence: 1 / all };
}

/** For each beat of a bar, what speaks for its being the first. */
function evidenceFor(strokes: readonly Stroke[], origin: number, beatFrames: number, beats: number): Float64Array {
  const loudest = strokes.reduce((most, { peakDb }) => Math.max(most, peakDb), Number.NEGATIVE_INFINITY);
  const scores = new Float64Array(beats);
  let bars = 1;
  for (const { frame, peakDb, families } of strokes) {
    const at = (frame - origin) / beatFrames;
    const on = Math.abs(at - Math.round(at)) <= NEAR_BEAT;
    const beat = on ? Math.round(at) : Math.floor(at);
    bars = Math.max(bars, beat / beats);
    const weight = 10 ** ((peakDb - loudest) / 40);
    for (let one = 0; one < beats; one++) {
      const place = (((beat - one) % beats) + beats) % beats;
      const role = place === 0 ? 0 : beats % 2 === 0 && place === beats / 2 ? 1 : place === beats - 1 ? 2 : 3;
      // Between beats only what leads up to a bar tells anything: rolls and fills.
      for (const [f, family] of TOLD_FAMILIES.entries())
        if (on || ((family === 'tom' || family === 'snare') && role !== 0))
          scores[one] = (scores[one] as number) + weight * (families[f] as number) * (SPEAKS[family]?.[role] ?? 0);
    }
  }
  // Bars of one recording are much alike: four of them tell twice what one does.
  return scores.map((score) => score / Math.sqrt(bars));
}
