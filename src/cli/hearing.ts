import { familyChances } from '@/core/describe/family';
import { FAMILY_NETWORK } from '@/core/describe/family-weights';
import { hear } from '@/core/describe/hearing';
import { Describer } from '@/core/describe/sound';
import type { Candidate } from '@/core/onset/detect';
import type { Region } from '@/core/onset/split';
import { rounded } from './figures';

/** What is heard in each slice of a recording, as `undercroft onsets` tells it. */
export function heardIn(
  mono: Float32Array,
  sampleRate: number,
  regions: readonly Region[],
  candidates: readonly Candidate[],
) {
  const describer = new Describer(sampleRate);
  const listened = regions.map((region) => {
    const figures = describer.describe(mono, region.startFrame, region.endFrame);
    return { ...region, figures, chances: familyChances(figures, FAMILY_NETWORK), family: null, shelf: null };
  });
  const { slices } = hear(
    listened,
    () => candidates,
    () => sampleRate,
  );
  return slices.map(({ family, familyConfidence, guess, isolation, group }, i) => {
    const root = listened[i]?.figures.root ?? null;
    return {
      family,
      familyConfidence: rounded(familyConfidence),
      contains: guess.contains,
      rootHz: root ? rounded(root.hz) : null,
      isolation: isolation.score,
      group,
    };
  });
}
