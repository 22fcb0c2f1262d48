import { useCallback, useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { type TreatedHit, wholeChain } from '@/core/hit/key';
import { useHits } from '../data/queries';
import { complain } from '../parts/notice';
import { openSound, soundNow } from '../sound/open-sound';
import { stretchAsHit } from '../treatment/subject';

/** Recordings up to this length in seconds are loaded into sample memory whole, so that every slice sounds at once. */
const KEEP_WHOLE_SECONDS = 60;
/** Longer stretches of a treated recording sound as recorded: rendering them would keep the ear waiting. */
const LONGEST_TREATED_S = 30;

export interface Hearing {
  /**
   * Auditions a stretch: as the hit that is given or that has the same edges, or with what is done to the recording; repeats
   * with looping on.
   */
  readonly hear: (from: number, to: number, hit?: TreatedHit) => void;
  readonly loop: boolean;
  readonly setLoop: (loop: boolean) => void;
}

/** Auditions stretches of one recording, one at a time; silent once the page is left. */
export function useHearing(recording: RecordingView): Hearing {
  const [loop, setLoop] = useState(false);
  useEffect(() => {
    if (recording.frames <= KEEP_WHOLE_SECONDS * recording.sampleRate) {
      openSound()
        .then((sound) => sound.samples.stretch(recording, 0, recording.frames))
        .then((lease) => lease.release())
        .catch(() => {
          // The error is shown when something is auditioned.
        });
    }
    return () => soundNow()?.audition.stop();
  }, [recording]);
  const hits = useHits().data;
  const latest = useRef(hits);
  latest.current = hits;
  const hear = useCallback(
    (startFrame: number, endFrame: number, given?: TreatedHit) => {
      const hit = given ?? treatedAt(recording, startFrame, endFrame, latest.current ?? []);
      const play = async () =>
        (soundNow() ?? (await openSound())).audition.play(
          { recording, startFrame, endFrame, hit: hit && { ...hit, startFrame, endFrame } },
          loop,
        );
      play().catch((e: Error) => complain(e.message));
    },
    [recording, loop],
  );
  return { hear, loop, setLoop };
}

/** How a stretch sounds that is a treated hit, or lies in a treated recording; undefined where it sounds as recorded. */
function treatedAt(
  recording: RecordingView,
  startFrame: number,
  endFrame: number,
  hits: readonly TreatedHit[],
): TreatedHit | undefined {
  const isTreated = (hit: TreatedHit) => wholeChain(hit).some((step) => step.active);
  const known = hits.find(
    (h) =>
      h.recordingId === recording.id && h.startFrame === startFrame && h.endFrame === endFrame && h.binnedAt === null,
  );
  if (known) return isTreated(known) ? known : undefined;
  const short = endFrame - startFrame <= LONGEST_TREATED_S * recording.sampleRate;
  const inherited = stretchAsHit(recording, startFrame, endFrame);
  return short && isTreated(inherited) ? inherited : undefined;
}
