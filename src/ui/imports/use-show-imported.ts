import { usePathname, useRouter } from 'next/navigation';
import { useCallback, useRef } from 'react';
import type { ImportAnswer } from '@/contract/views';
import { createStore } from '../parts/store';

/** The recording to show in the list once it is there; null for none. */
export const recordingToShow = createStore<string | null>(null);

/** Shows the result of importing one file: chosen in the list on Recordings, opened on Slice from elsewhere. */
export function useShowImported(): (answer: ImportAnswer | null) => void {
  const router = useRouter();
  const path = usePathname();
  const here = useRef(path);
  here.current = path;
  return useCallback(
    (answer) => {
      if (!answer) return;
      if (here.current === '/recordings') recordingToShow.set(answer.recordingId);
      else router.push(`/slice/${answer.recordingId}`);
    },
    [router],
  );
}
