import { detectPeaks } from '../../src/core/onset/detect';
import { placeFeatures, surroundings } from '../../src/core/onset/placement';
import { refineStart } from '../../src/core/onset/refine';
import type { Item } from './items';
import { makeLearningItems } from './learning-items';
import { type Case, caseOf, learn, writeWeights } from './logit';
import { isCounted } from './score';

/** `npm run train`: learns the weights by which starts are placed, and writes them into the core. */
/** A found start further from the true one than this is another sound's. */
const REACH_S = 0.02;

function casesOf({ samples, sampleRate, truth }: Item): Case[] {
  const starts = detectPeaks(samples, sampleRate).map(({ from, to }) => refineStart(samples, sampleRate, from, to));
  return truth.filter(isCounted).flatMap(({ seconds }) => {
    const off = (start: { frame: number }) => Math.abs(start.frame / sampleRate - seconds);
    const [first, ...rest] = starts;
    if (!first) return [];
    const nearest = rest.reduce((best, start) => (off(start) < off(best) ? start : best), first);
    if (off(nearest) > REACH_S) return [];
    const { frame, residual, residualStart } = nearest;
    const about = surroundings(samples, sampleRate, frame, residual, residualStart);
    return caseOf(placeFeatures(about), (frame / sampleRate - seconds) * 1000) ?? [];
  });
}

const cases = makeLearningItems().flatMap(casesOf);
console.log(`${cases.length} starts.`);
writeWeights(
  'src/core/onset/placement-weights.ts',
  'PLACEMENT_WEIGHTS',
  `Learnt by \`npm run train\` from ${cases.length} starts of the learning set`,
  learn(cases),
);
