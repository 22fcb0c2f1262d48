import { useCallback } from 'react';
import type { RecordingView } from '@/contract/views';
import { useCommands } from '../data/commit';
import { soundNow } from '../sound/open-sound';
import { clock } from './figures';
import { tell } from './notice';

/** Sets a bookmark in a recording at the playhead; without one, at `otherwise`. */
export function useBookmark(): (recording: RecordingView, otherwise?: number) => void {
  const { commit } = useCommands();
  return useCallback(
    (recording, otherwise) => {
      const head = soundNow()?.audition.playhead();
      const at = head?.recordingId === recording.id ? head.frame : otherwise;
      if (at === undefined) {
        tell('Bookmarks are set where the sound is: play first.');
        return;
      }
      const frame = Math.max(0, Math.min(recording.frames - 1, Math.round(at)));
      const value = { recordingId: recording.id, frame, label: '' };
      void commit('set a bookmark', [{ op: 'create', doc: 'bookmark', id: crypto.randomUUID(), value }]);
      tell(`Bookmark at ${clock(frame / recording.sampleRate)}`, { durationMs: 1500 });
    },
    [commit],
  );
}
