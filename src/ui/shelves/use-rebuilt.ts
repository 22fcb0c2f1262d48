import * as Comlink from 'comlink';
import { useEffect, useState } from 'react';
import type { CutView } from '@/contract/views';
import type { HearingWorker, Rebuilding } from '@/worker/hearing.worker';
import { complain } from '../parts/notice';

/** Longer recordings, in seconds, are not rebuilt for comparison. */
const LONGEST_S = 60;

/** How much a recording played from its slices differs from itself; null until known, or where it is too long. */
export function useRebuilt({ recording, slices }: CutView): Rebuilding | null {
  const [rebuilt, setRebuilt] = useState<Rebuilding | null>(null);
  useEffect(() => {
    setRebuilt(null);
    const { id, encoding, channelCount, sampleRate, frames } = recording;
    if (slices.length === 0 || frames > LONGEST_S * sampleRate) return;
    // A thread of its own, so that grouping does not wait; outdated work is stopped.
    const thread = new Worker(new URL('../../worker/hearing.worker.ts', import.meta.url));
    const regions = slices.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
    let late = false;
    Comlink.wrap<HearingWorker>(thread)
      .rebuild({ id, encoding, channelCount, sampleRate, frames }, regions)
      .then((answer) => {
        if (!late) setRebuilt(answer);
      })
      .catch((error: Error) => {
        if (!late) complain(error.message);
      })
      .finally(() => thread.terminate());
    return () => {
      late = true;
      thread.terminate();
    };
  }, [recording, slices]);
  return rebuilt;
}
