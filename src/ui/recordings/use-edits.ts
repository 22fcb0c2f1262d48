import { useMemo } from 'react';
import type { Change } from '@/contract/edits';
import type { Dependents, RecordingView } from '@/contract/views';
import type { Recording } from '@/core/recording/model';
import { deleteAt, getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { complain, tell } from '../parts/notice';

/** Edits of one or several recordings. */
export function useRecordingEdits() {
  const { commit } = useCommands();
  return useMemo(() => {
    const set = (recordings: readonly RecordingView[], label: string, fields: Partial<Recording>) => {
      if (recordings.length === 0) return;
      void commit(
        label,
        recordings.map(({ id, rev }): Change => ({ op: 'update', doc: 'recording', id, rev, set: fields })),
      );
    };
    const named = (list: readonly RecordingView[]) =>
      list.length === 1 ? (list[0] as RecordingView).title : `${list.length} recordings`;
    return {
      set,
      named,
      tag(recordings: readonly RecordingView[], tag: string) {
        const changes = recordings
          .filter((r) => !r.tags.includes(tag))
          .map(
            ({ id, rev, tags }): Change => ({ op: 'update', doc: 'recording', id, rev, set: { tags: [...tags, tag] } }),
          );
        void commit(`tagged ${named(recordings)} ${tag}`, changes);
      },
      /** Moves to the bin; says so where something uses them, and that goes on sounding. */
      bin(recordings: readonly RecordingView[]) {
        const live = recordings.filter((r) => r.binnedAt === null);
        if (live.length === 0) return;
        set(live, `put ${named(live)} in the bin`, { binnedAt: Date.now() });
        const hits = live.reduce((sum, r) => sum + r.hitCount, 0);
        const kits = [...new Set(live.flatMap((r) => r.kits))];
        const uses =
          hits > 0
            ? ` ${hits === 1 ? 'One hit is' : `${hits} hits are`} made of it${kits.length > 0 ? `, heard in ${kits.join(', ')}` : ''}; they go on sounding.`
            : '';
        tell(`${named(live)} ${live.length === 1 ? 'is' : 'are'} in the bin; Ctrl Z brings back.${uses}`);
      },
      restore(recordings: readonly RecordingView[]) {
        const gone = recordings.filter((r) => r.binnedAt !== null);
        set(gone, `took ${named(gone)} out of the bin`, { binnedAt: null });
      },
      /** Deletes for good, with the audio. Those still in use stay, with the reason. */
      async discard(recordings: readonly RecordingView[]) {
        for (const r of recordings) {
          try {
            await deleteAt(`/api/recordings/${r.id}`);
          } catch (error) {
            complain((error as Error).message, { durationMs: 12_000 });
          }
        }
      },
      dependents: (r: RecordingView) => getJson<Dependents>(`/api/recordings/${r.id}/dependents`),
    };
  }, [commit]);
}
