import { familyChances } from '@/core/describe/family';
import { FAMILY_NETWORK } from '@/core/describe/family-weights';
import { hear } from '@/core/describe/hearing';
import { Describer } from '@/core/describe/sound';
import type { Candidate } from '@/core/onset/detect';
import { selectOnsets } from '@/core/onset/select';
import { DEFAULT_SPLIT, type Region, type Split } from '@/core/onset/split';
import { type Rhythm, rhythmOf } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';
import { rounded } from './figures';

/** What is heard in each slice of a recording and the rhythm they were struck in, as `undercroft onsets` tells it. */
export function heardIn(
  mono: Float32Array,
  sampleRate: number,
  regions: readonly Region[],
  candidates: readonly Candidate[],
  split: Split,
) {
  const describer = new Describer(sampleRate);
  const listened = regions.map((region) => {
    const figures = describer.describe(mono, region.startFrame, region.endFrame);
    return { ...region, figures, chances: familyChances(figures, FAMILY_NETWORK), family: null, shelf: null };
  });
  const hearing = hear(
    listened,
    () => candidates,
    () => sampleRate,
  );
  const onsets = selectOnsets(candidates, DEFAULT_SPLIT, sampleRate);
  const rhythm = rhythmOf(strokesHeard(listened, hearing), onsets, split, sampleRate, mono.length);
  const places = new Map(hearing.shelves.map(({ group }, place) => [group, place]));
  const slices = hearing.slices.map(({ family, familyConfidence, guess, isolation, group }, i) => {
    const root = listened[i]?.figures.root ?? null;
    return {
      family,
      familyConfidence: rounded(familyConfidence),
      contains: guess.contains,
      rootHz: root ? rounded(root.hz) : null,
      isolation: isolation.score,
      // Counted as the shelves stand, as in the rhythm.
      group: places.get(group) ?? group,
    };
  });
  return { slices, rhythm: told(rhythm) };
}

function told({ notes, bpm, bpmConfidence, octaves, downbeatFrame, downbeatConfidence, beats, beatUnit }: Rhythm) {
  return {
    bpm,
    bpmConfidence: rounded(bpmConfidence),
    octaves: octaves.map((o) => ({ bpm: rounded(o.bpm), share: rounded(o.share) })),
    downbeatFrame,
    downbeatConfidence: rounded(downbeatConfidence),
    metre: `${beats}/${beatUnit}`,
    notes: notes.map(({ frame, quarters, group, velocity }) => ({
      frame,
      quarters: rounded(quarters),
      group,
      velocity: rounded(velocity),
    })),
  };
}
