import { chancesOf } from '@/core/describe/chances';
import { Describer } from '@/core/describe/description';
import { type HeardSlice, hear } from '@/core/describe/hearing';
import type { Impurity } from '@/core/describe/isolation';
import type { Candidate } from '@/core/onset/detect';
import { selectOnsets } from '@/core/onset/select';
import { type Region, SPLIT_INITIAL, type Split } from '@/core/onset/split';
import { type Rhythm, rhythmOf } from '@/core/rhythm/rhythm';
import { strokesHeard } from '@/core/rhythm/stroke';
import { rounded } from './figures';

/** What is heard in the slices of a recording, and its rhythm. */
export function listenedTo(
  mono: Float32Array,
  sampleRate: number,
  regions: readonly Region[],
  candidates: readonly Candidate[],
  split: Split,
) {
  const describer = new Describer(sampleRate);
  const listened = regions.map((region) => {
    const figures = describer.describe(mono, region.startFrame, region.endFrame);
    return { ...region, figures, chances: chancesOf(figures), family: null, shelf: null };
  });
  const recording = { candidates, sampleRate };
  const hearing = hear(listened, () => recording);
  const onsets = selectOnsets(candidates, SPLIT_INITIAL, sampleRate);
  const rhythm = rhythmOf(strokesHeard(listened, hearing), onsets, split, sampleRate, mono.length);
  return { hearing, listened, rhythm };
}

/** Descriptions of a recording's slices and its rhythm, as `undercroft onsets` prints them. */
export function heardIn(...of: Parameters<typeof listenedTo>) {
  const { hearing, listened, rhythm } = listenedTo(...of);
  const places = new Map(hearing.shelves.map(({ group }, place) => [group, place]));
  const slices = listened.map(({ figures }, i) => {
    const { family, familyConfidence, guess, isolation, cutShortDb, tailOf, group, groupConfidence, also } = hearing
      .slices[i] as HeardSlice;
    const { root, lufs, brightnessHz, envelope } = figures;
    return {
      family,
      familyConfidence: rounded(familyConfidence),
      drumConfidence: rounded(guess.drum),
      contains: [family, ...also],
      rootHz: root ? rounded(root.hz) : null,
      rootConfidence: root ? rounded(root.clarity) : null,
      momentaryLufs: rounded(lufs),
      brightnessHz: rounded(brightnessHz),
      decay20Ms: envelope.decay20Ms,
      isolation: isolation.score,
      cutShortDb: cutShortDb === null ? null : rounded(cutShortDb),
      // Reasons against full isolation, the worst first.
      foreign: isolation.reasons.map((reason) => told(reason, tailOf)),
      // Counted as the shelves are, as in the rhythm.
      group: places.get(group) ?? group,
      groupConfidence: rounded(groupConfidence),
    };
  });
  return { slices, rhythm: rhythmTold(rhythm) };
}

/** A reason with its details: whose tail, as the index of a slice; when; or the frequency. */
function told(reason: Impurity, tailOf: number | null) {
  const { kind, db } = reason;
  if (kind === 'tail before') return { kind, db: rounded(db), ofSlice: tailOf };
  if (kind === 'another onset') return { kind, db: rounded(db), seconds: rounded(reason.seconds) };
  return { kind, db: rounded(db), hz: rounded(reason.hz) };
}

function rhythmTold({
  notes,
  bpm,
  bpmConfidence,
  octaves,
  downbeatFrame,
  downbeatConfidence,
  beats,
  beatUnit,
}: Rhythm) {
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
