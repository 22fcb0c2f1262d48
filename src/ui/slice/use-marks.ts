import { useCallback, useMemo, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { CutView } from '@/contract/views';
import { applyMarks, type MarkChanges } from '@/core/onset/marks';
import { SLICE_INITIAL } from '@/core/recording/initial';
import type { Slice } from '@/core/recording/model';
import { useCommands } from '../data/commit';

export type StoredSlice = Stored<Slice>;

export interface Storing {
  readonly created: readonly string[];
  readonly stored: Promise<unknown>;
}

export interface Marks {
  /** The slices as shown: stored, or with the preview of a gesture. */
  readonly slices: readonly StoredSlice[];
  readonly setPreview: (changes: MarkChanges | null) => void;
  /** Stores changes as one edit; returns the ids of created slices in order, and a promise of its completion. */
  readonly store: (label: string, marks: MarkChanges, more?: readonly Change[]) => Storing;
}

/** A recording's slices with the preview of a gesture, and the way to store it. */
export function useMarks(view: CutView): Marks {
  const { commit } = useCommands();
  const [preview, setPreview] = useState<MarkChanges | null>(null);
  const recordingId = view.recording.id;
  const slices = useMemo(() => {
    if (!preview) return view.slices;
    return applyMarks(
      view.slices,
      preview,
      (mark, i): StoredSlice => ({ ...SLICE_INITIAL, ...mark, id: `preview-${i}`, recordingId, rev: 0 }),
    );
  }, [view.slices, preview, recordingId]);

  const store = useCallback(
    (label: string, marks: MarkChanges, more: readonly Change[] = []): Storing => {
      setPreview(null);
      const revs = new Map(view.slices.map((s) => [s.id, s.rev]));
      const created = marks.create.map(() => crypto.randomUUID());
      const changes: Change[] = [
        ...marks.remove.map((id): Change => ({ op: 'remove', doc: 'slice', id, rev: revs.get(id) ?? 0 })),
        ...marks.update.map(
          ({ id, set }): Change => ({ op: 'update', doc: 'slice', id, rev: revs.get(id) ?? 0, set: { ...set } }),
        ),
        ...marks.create.map(
          (mark, i): Change => ({
            op: 'create',
            doc: 'slice',
            id: created[i] as string,
            value: { ...SLICE_INITIAL, ...mark, recordingId },
          }),
        ),
        ...more,
      ];
      return { created, stored: commit(label, changes) };
    },
    [commit, view.slices, recordingId],
  );
  return { slices, setPreview, store };
}
