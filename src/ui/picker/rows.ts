import type { Stored } from '@/contract/documents';
import type { CutView, HitView, RecordingView } from '@/contract/views';
import type { Family } from '@/core/hit/model';
import type { Slice } from '@/core/recording/model';
import { type Stretch, stretchOfHit } from '../pads/laying';

/** A line of the picker: a recording, one of its slices, or a hit. */
export type PickerRow =
  | { readonly type: 'recording'; readonly id: string; readonly recording: RecordingView; readonly open: boolean }
  | {
      readonly type: 'slice';
      readonly id: string;
      readonly recording: RecordingView;
      readonly slice: Stored<Slice>;
      readonly number: number;
    }
  | { readonly type: 'hit'; readonly id: string; readonly recording: RecordingView; readonly hit: HitView };

const holds = (text: string, words: readonly string[]) =>
  words.every((word) => text.toLocaleLowerCase().includes(word));

/** Recordings that match, each unfolded one followed by its slices. A slice's family counts as a word of its own. */
export function recordingRows(
  recordings: readonly RecordingView[],
  query: string,
  unfolded: ReadonlyMap<string, CutView | null>,
): PickerRow[] {
  const words = query.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return recordings
    .filter((r) => holds(`${r.title} ${r.tags.join(' ')} ${r.what ?? ''} ${r.notes}`, words))
    .flatMap((recording): PickerRow[] => {
      const open = unfolded.has(recording.id);
      const slices = unfolded.get(recording.id)?.slices ?? [];
      return [
        { type: 'recording', id: recording.id, recording, open },
        ...slices.map((slice, i): PickerRow => ({ type: 'slice', id: slice.id, recording, slice, number: i + 1 })),
      ];
    });
}

/** Hits that match, by name. */
export function hitRows(
  hits: readonly HitView[],
  recordings: ReadonlyMap<string, RecordingView>,
  query: string,
): PickerRow[] {
  const words = query.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return hits.flatMap((hit): PickerRow[] => {
    const recording = recordings.get(hit.recordingId);
    if (hit.binnedAt !== null || !recording) return [];
    const text = `${hit.name} ${hit.family ?? ''} ${hit.tags.join(' ')} ${recording.title}`;
    return holds(text, words) ? [{ type: 'hit', id: hit.id, recording, hit }] : [];
  });
}

/** What a line would lay on a pad; a recording as a whole. */
export function stretchOfRow(row: PickerRow): Stretch {
  const { recording } = row;
  if (row.type === 'hit') return stretchOfHit(row.hit, recording);
  if (row.type === 'recording')
    return { recording, startFrame: 0, endFrame: recording.frames, sliceId: null, family: null, number: 1 };
  const { startFrame, endFrame, id, family } = row.slice;
  return { recording, startFrame, endFrame, sliceId: id, family: family as Family | null, number: row.number };
}
