import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';
import type { RecordingView } from '@/contract/views';
import { readFileName } from '@/core/naming/file-names';
import { getJson } from '../data/api';
import { keys } from '../data/queries';
import type { FileToImport } from '../imports/queue';
import { useImports } from '../imports/use-imports';
import { tell } from '../parts/notice';
import { useKitDesk } from './kit-context';
import type { Stretch } from './laying';

/**
 * Imports files dropped on a pad and lays them as one edit. One file goes to the pad, or asks where it is occupied;
 * several go to free pads of the role in each file's name. Nothing is replaced.
 */
export function useLayFiles(
  onOccupied: (stretch: Stretch, position: number) => void,
): (files: readonly FileToImport[], position: number) => void {
  const client = useQueryClient();
  const imports = useImports();
  const desk = useKitDesk();
  // The kit when the import is done, not when the files were dropped.
  const now = useRef(desk);
  now.current = desk;
  return useCallback(
    (files, position) => {
      if (!now.current.view) {
        tell('Make a kit first: there is none to lay the sound in.');
        return;
      }
      imports.take(files, { takeAs: 'recording', prepare: [] }, async (answers) => {
        const recordings = await client.fetchQuery({
          queryKey: keys.recordings,
          queryFn: () => getJson<RecordingView[]>('/api/recordings'),
          staleTime: 0,
        });
        const sounds = answers.flatMap(({ source, answer }) => {
          const recording = recordings.find((r) => r.id === answer?.recordingId);
          return recording ? [wholeFile(recording, source.path)] : [];
        });
        const { view, lay, layAll } = now.current;
        const [only] = sounds;
        if (!only) return;
        if (sounds.length > 1) layAll(sounds, 'role', `laid ${sounds.length} files on pads`);
        else if (view?.pads.some((pad) => pad.position === position)) onOccupied(only, position);
        else lay(only, position, 'next');
      });
    },
    [client, imports, onOccupied],
  );
}

/** A whole recording as one sound, with the family in its file name. */
function wholeFile(recording: RecordingView, path: string): Stretch {
  return {
    recording,
    startFrame: 0,
    endFrame: recording.frames,
    sliceId: null,
    family: readFileName(path).family,
    number: 1,
    title: recording.title,
  };
}
