import type { Stored } from '@/contract/documents';
import type { RecordingView } from '@/contract/views';
import { likelyDrum } from '@/core/describe/family';
import type { Family } from '@/core/family';
import type { PadSettings } from '@/core/kit/model';
import type { Slice } from '@/core/recording/model';
import type { MarkedStretch } from '@/picture/span';
import type { Stretch } from '../pads/laying';
import type { ShelvedSlice } from '../shelves/use-heard';

/**
 * From this confidence on an estimate names a hit and chooses its pad (docs/listening.md has how often each was right).
 */
export const SURE = 0.7;

/** Family of a slice for laying: decided, or estimated with confidence; and further families a person kept. */
export function familyOf(
  slice: Pick<Slice, 'family' | 'also'>,
  heard: ShelvedSlice | undefined,
): Pick<Stretch, 'family' | 'sure' | 'also'> {
  const said = slice.family as Family | null;
  const sure = heard && heard.heard.familyConfidence >= SURE && likelyDrum(heard.heard.guess);
  const family = said ?? (sure ? heard.heard.family : null);
  const also = slice.also.filter((other) => other !== family);
  return { family, sure: said || !heard ? undefined : heard.heard.familyConfidence, also };
}

/** A slice to be laid on a pad; `number` is its place among the recording's slices, for its name. */
export function stretchOf(
  recording: RecordingView,
  slice: Stored<Slice>,
  number: number,
  pad?: PadSettings,
  heard?: ShelvedSlice,
): Stretch {
  const { startFrame, endFrame, id, name } = slice;
  const title = name === '' ? undefined : name;
  return { recording, startFrame, endFrame, sliceId: id, ...familyOf(slice, heard), number, title, pad };
}

/** A marked stretch, to be laid on a pad. */
export function markedStretchOf(recording: RecordingView, { start, end }: MarkedStretch, pad?: PadSettings): Stretch {
  return { recording, startFrame: start, endFrame: end, sliceId: null, family: null, number: 1, pad };
}
