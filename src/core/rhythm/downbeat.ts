import { TOLD_FAMILIES, type ToldFamily } from '../describe/family';
import type { Stroke } from './stroke';

/**
 * Evidence of a drum on a beat for that beat being the first of its bar, the middle of an even bar, the last, or
 * another: low drums and cymbals begin bars, snares and claps answer them, toms lead up to the next (common practice;
 * similar evidence in M. Goto, "An audio-based real-time beat tracking system for music with or without drum-sounds",
 * Journal of New Music Research 30, 2001, section 3.3).
 */
const SPEAKS: Partial<Record<ToldFamily, readonly [first: number, middle: number, last: number, other: number]>> = {
  kick: [1, 0.6, -0.5, -0.5],
  cymbal: [1.5, 0, -0.5, -0.5],
  snare: [-0.8, -0.5, 0.5, 0.5],
  clap: [-0.8, -0.5, 0.5, 0.5],
  rim: [-0.4, -0.2, 0.2, 0.2],
  tom: [-0.6, -0.2, 0.6, 0],
};
/** Tolerance of a stroke on a beat, in beats. */
const NEAR_BEAT = 0.12;
/** Evidence for the beginning of the recording being that of a bar. */
const BEGINS = 1;
/** So much evidence makes one beat e times more likely than another to be the first. */
const EVIDENCE = 0.7;

/**
 * The first bar's beginning, from what is struck on each beat of the bar over the whole recording. The estimated beat
 * may lie halfway between two: both are tried.
 */
export function downbeatOf(
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

/** For each beat of a bar, the evidence for its being the first. */
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
      // Between beats only fills and rolls are evidence.
      for (const [f, family] of TOLD_FAMILIES.entries())
        if (on || ((family === 'tom' || family === 'snare') && role !== 0))
          scores[one] = (scores[one] as number) + weight * (families[f] as number) * (SPEAKS[family]?.[role] ?? 0);
    }
  }
  // Bars of one recording are alike: four of them give twice the evidence of one.
  return scores.map((score) => score / Math.sqrt(bars));
}
