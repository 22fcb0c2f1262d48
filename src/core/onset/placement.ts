import { threadKernel } from '../kernel/kernel';

/**
 * The surroundings of a start, from which a better place is estimated: powers in steps of a quarter of a millisecond of
 * the whitened signal, of the signal itself, and of its second difference, which emphasises sudden changes.
 */
export interface Surroundings {
  /** Powers of each of the three, `STEPS` each, one after the other; and their running sums, each after a zero. */
  readonly powers: Float64Array;
  readonly sums: Float64Array;
}

const STEP_MS = 0.25;
/** Steps before and after the given start. */
const BEFORE = 56;
const AFTER = 64;
const STEPS = BEFORE + AFTER;
/** Places considered, in steps from the beginning: 8 ms to either side. */
const FIRST_PLACE = 24;
export const PLACES = 64;
/** The place that begins with the given start itself. */
export const FIRST_PLACE_AFTER = BEFORE - FIRST_PLACE;
export const FEATURES = 39;

/** Milliseconds from the given start to a place. */
export function offsetMs(place: number): number {
  return (FIRST_PLACE + place - BEFORE) * STEP_MS;
}

/** `residual[0]` is the whitened sample of frame `residualStart`. */
export function surroundings(
  samples: Float32Array,
  sampleRate: number,
  frame: number,
  residual: Float64Array,
  residualStart: number,
): Surroundings {
  const step = (STEP_MS * sampleRate) / 1000;
  // Samples before the first count as 0; two more are read for the differences.
  const from = Math.max(0, Math.round(frame - BEFORE * step) - 2);
  const to = Math.min(samples.length, Math.round(frame + AFTER * step));
  const kernel = threadKernel();
  return kernel.within(() => {
    const at = kernel.lay(samples.subarray(from, to));
    const whitened = kernel.lay(residual);
    const powers = kernel.run.reserve(8 * 3 * STEPS);
    const sums = kernel.run.reserve(8 * 3 * (STEPS + 1));
    kernel.run.placePowers(
      at,
      to - from,
      whitened,
      residual.length,
      residualStart - from,
      frame - from,
      step,
      powers,
      sums,
    );
    return {
      powers: kernel.doubles(powers, 3 * STEPS).slice(),
      sums: kernel.doubles(sums, 3 * (STEPS + 1)).slice(),
    };
  });
}

/**
 * `FEATURES` figures for each of `PLACES` places. For each of the three signals, as logarithms of powers within 60 dB,
 * over 0.5, 1.5 and 4 ms: the rise from before to after, the rise over the initial background, and the distance of what
 * follows from the maximum; then the step at the place, relative to the background and to its neighbours. Finally the
 * distance of the place from the given start: to either side, and later.
 */
export function placeFeatures(about: Surroundings): Float32Array {
  const kernel = threadKernel();
  return kernel.within(() => kernel.floats(layFeatures(about), PLACES * FEATURES).slice());
}

function layFeatures({ sums, powers }: Surroundings): number {
  const kernel = threadKernel();
  const [sumsAt, powersAt] = [kernel.lay(sums), kernel.lay(powers)];
  const at = kernel.run.reserve(4 * PLACES * FEATURES);
  kernel.run.placeFeatures(sumsAt, powersAt, at);
  return at;
}

/** Weights of a small network that rates places: `npm run train` finds them on the tuning set. */
export interface PlacementWeights {
  readonly hiddenCount: number;
  /**
   * `FEATURES` by `hiddenCount`, row by row, for unscaled features; then the hidden units' biases and output weights.
   */
  readonly inner: Float32Array;
  readonly offset: Float32Array;
  readonly outer: Float32Array;
}

/** Scores of all places; the exponentials of them, normalised, are probabilities. */
export function placeScores(about: Surroundings, weights: PlacementWeights): Float32Array {
  const kernel = threadKernel();
  return kernel.within(() => {
    const features = layFeatures(about);
    const [inner, offset, outer] = [weights.inner, weights.offset, weights.outer].map((v) => kernel.lay(v));
    const out = kernel.run.reserve(4 * PLACES);
    kernel.run.placeScores(features, weights.hiddenCount, inner as number, offset as number, outer as number, out);
    return kernel.floats(out, PLACES).slice();
  });
}

/** A start is moved where another place is more likely by this much, as a logarithm, and further away than this. */
const MARGIN = 0.5;
const LEAST_MS = 0.8;

/**
 * Milliseconds to move an onset by, 0 for none: to the most likely place around it, where that is clearly more likely
 * than its own. The change point in `refine.ts` is exact where nothing else sounds; under other sounds and after a
 * lossy codec several cues together are better than any single one.
 *
 * The likelihood is a conditional logit over the places (D. McFadden, "Conditional logit analysis of qualitative choice
 * behavior", 1974) with one hidden layer, trained on the tuning set; docs/onsets.md has the details.
 */
export function betterBy(about: Surroundings, weights: PlacementWeights): number {
  const scores = placeScores(about, weights);
  let best = 0;
  for (let place = 1; place < PLACES; place++) if ((scores[place] as number) > (scores[best] as number)) best = place;
  const offset = offsetMs(best) + STEP_MS / 2;
  const own = FIRST_PLACE_AFTER;
  const here = Math.max(scores[own - 1] as number, scores[own] as number, scores[own + 1] as number);
  return Math.abs(offset) > LEAST_MS && (scores[best] as number) - here > MARGIN ? offset : 0;
}
