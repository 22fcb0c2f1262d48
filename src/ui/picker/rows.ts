import type { Stored } from '@/contract/documents';
import type { CutView, HitView, RecordingView } from '@/contract/views';
import type { Slice } from '@/core/recording/model';
import { type Stretch, stretchOfHit } from '../pads/laying';
import type { ShelvedSlice } from '../shelves/use-heard';
import { stretchOf } from '../slice/stretches';

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

/** Recordings that match, each unfolded one followed by its slices. A slice's family counts as a word. */
export function recordingRows(
  recordings: readonly RecordingView[],
  query: string,
  unfolded: ReadonlyMap<string, CutView | null>,
): PickerRow[] {
  const words = query.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return recordings
    .filter((r) => holds(`${r.title} ${r.otherNames.join(' ')} ${r.tags.join(' ')} ${r.what ?? ''} ${r.notes}`, words))
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

/**
 * What a line lays on a pad; a recording as a whole, under its own title. `heard`: descriptions of slices by their ids.
 */
export function stretchOfRow(row: PickerRow, heard: ReadonlyMap<string, ShelvedSlice>): Stretch {
  const { recording } = row;
  if (row.type === 'hit') return stretchOfHit(row.hit, recording);
  if (row.type === 'slice') return stretchOf(recording, row.slice, row.number, undefined, heard.get(row.slice.id));
  const { frames, title } = recording;
  return { recording, startFrame: 0, endFrame: frames, sliceId: null, family: null, number: 1, title };
}
