import { usePathname, useRouter } from 'next/navigation';
import { useCallback, useRef } from 'react';
import type { ImportAnswer } from '@/contract/views';
import { createStore } from '../parts/store';

/** The recording that a list of recordings is to show, once it is there; null for none. */
export const recordingToShow = createStore<string | null>(null);

/** Shows what one file has become: chosen in the list on Recordings, opened on Slice from everywhere else. */
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
