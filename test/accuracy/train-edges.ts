import { edgeFeatures, FIRST_EDGE_PLACE } from '../../src/core/onset/lead';
import { seededRandom } from '../../src/core/signal/random';
import type { Item } from './items';
import { makeLearningItems } from './learning-items';
import { type Case, caseOf, learn, writeWeights } from './logit';
import { isCounted } from './score';

/** `npm run train-edges`: learns where the first attack of a recording lies that was cut shortly before it. */
const LONGEST_LEAD_MS = 7.5;

/** Each stroke three times: cut at its start, a little before it, and anywhere up to the longest lead. */
function casesOf(item: Item, random: () => number): Case[] {
  const { samples, sampleRate, truth } = item;
  return truth.filter(isCounted).flatMap(({ seconds }) =>
    [0, random(), random() * LONGEST_LEAD_MS].flatMap((leadMs) => {
      const from = Math.round((seconds - leadMs / 1000) * sampleRate);
      if (from < 0) return [];
      const features = edgeFeatures(samples.subarray(from), sampleRate);
      return caseOf(features, (from / sampleRate - seconds) * 1000, FIRST_EDGE_PLACE) ?? [];
    }),
  );
}

const random = seededRandom(7);
const cases = makeLearningItems().flatMap((item) => casesOf(item, random));
console.log(`${cases.length} cuts.`);
writeWeights(
  'src/core/onset/edge-weights.ts',
  'EDGE_WEIGHTS',
  `Learnt by \`npm run train-edges\` from ${cases.length} cuts of the learning set`,
  learn(cases, FIRST_EDGE_PLACE),
);
