import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import { createStore } from '../parts/store';

/** Files of notes that wait to become grooves. */
export const notesToTake = createStore<readonly File[]>([]);

/** Shows the grooves, which take up files of notes. */
export function useNotes(): (files: readonly File[]) => void {
  const router = useRouter();
  return useCallback(
    (files) => {
      if (files.length === 0) return;
      notesToTake.set([...notesToTake.get(), ...files]);
      router.push('/grooves');
    },
    [router],
  );
}
