import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';
import { toast } from 'sonner';
import type { ImportAnswer, RecordingView } from '@/contract/views';
import { PAD_COUNT } from '@/core/kit/model';
import { readFileName } from '@/core/naming/file-names';
import { getJson } from '../data/api';
import { keys } from '../data/queries';
import type { FileToImport } from '../imports/queue';
import { useImports } from '../imports/use-imports';
import { useKitDesk } from './kit-context';
import type { Stretch } from './laying';

/** Files dropped on a pad: taken in, then laid there, further ones on the free pads after it. */
export function useLayFiles(): (files: readonly FileToImport[], position: number) => void {
  const client = useQueryClient();
  const imports = useImports();
  const desk = useKitDesk();
  // What the kit is when a file has come in, not when it was dropped.
  const now = useRef(desk);
  now.current = desk;
  return useCallback(
    (files, position) => {
      if (!now.current.view) {
        toast('Make a kit first: there is none to lay the sound in.');
        return;
      }
      let next = position;
      const land = async (answer: ImportAnswer, path: string) => {
        const recordings = await client.fetchQuery({
          queryKey: keys.recordings,
          queryFn: () => getJson<RecordingView[]>('/api/recordings'),
          staleTime: 0,
        });
        const recording = recordings.find((r) => r.id === answer.recordingId);
        if (!recording) return;
        const occupied = now.current.view?.pads.some((p) => p.position === next) ?? false;
        const went = now.current.lay(
          wholeFile(recording, path),
          occupied && next !== position ? null : next,
          occupied && next === position ? 'beside' : 'next',
        );
        if (went !== null) next = (went + 1) % PAD_COUNT;
      };
      for (const file of files) {
        imports.take([file], { takeAs: 'recording', prepare: [] }, (answer) => void land(answer, file.path));
      }
    },
    [client, imports],
  );
}

/** A whole recording as one sound, its family as its file's name says. */
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
