import { useCallback, useEffect, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { TreatedHit } from '@/core/hit/key';
import { complain } from '../parts/notice';
import { openSound, soundNow } from '../sound/sound';

/** Recordings up to this length in seconds are loaded into sample memory whole, so that every slice sounds at once. */
const KEEP_WHOLE_SECONDS = 60;

export interface Hearing {
  /** Auditions a stretch, or a hit of that stretch where one is given; repeats with looping on. */
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
  const hear = useCallback(
    (startFrame: number, endFrame: number, hit?: TreatedHit) => {
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
