import { useEffect } from 'react';
import { useRecordings } from '../data/queries';
import { complain } from '../parts/notice';
import { useStore } from '../parts/store';
import { openSound } from '../sound/open-sound';
import { prepareBeneath } from './beneath';
import { beneath, beneathDb } from './beneath-store';
import { player } from './player';

/** Keeps the recording that sounds beneath ready at the groove's tempo. */
export function useBeneath(bpm: number): void {
  const recording = useStore(beneath);
  const db = useStore(beneathDb);
  const { data: recordings } = useRecordings();
  useEffect(() => {
    if (!recording || !recordings) return;
    let isCurrent = true;
    void db;
    openSound()
      .then((sound) => prepareBeneath(sound, recording, recordings, bpm, () => isCurrent))
      .then(
        () => isCurrent && player.renew(),
        (error: Error) => isCurrent && complain(`${recording.title} cannot sound beneath: ${error.message}`),
      );
    return () => {
      isCurrent = false;
    };
  }, [recording, recordings, bpm, db]);
}
