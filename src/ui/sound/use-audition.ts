import { useCallback, useEffect, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { complain } from '../parts/notice';
import { openSound, soundNow } from './sound';

const BY_ITSELF = 'undercroft.arrows-sound';

interface Treated {
  readonly gain?: number;
  readonly dc?: readonly number[];
}

/** Hearing things in lists: one at a time, by key, button, or by the arrows as they choose. */
export function useAudition() {
  const [byItself, setByItself] = useState(true);
  const [playingId, setPlayingId] = useState<string | null>(null);
  useEffect(() => setByItself(localStorage.getItem(BY_ITSELF) !== 'no'), []);
  useEffect(() => {
    const timer = setInterval(() => setPlayingId(soundNow()?.playhead()?.recordingId ?? null), 150);
    return () => clearInterval(timer);
  }, []);
  const stop = useCallback(() => soundNow()?.stopAudition(), []);
  const play = useCallback((recording: RecordingView, start: number, end: number, treated: Treated = {}) => {
    const begin = async () => (soundNow() ?? (await openSound())).audition(recording, start, end, treated);
    begin().catch((error: Error) => complain(error.message));
  }, []);
  const toggle = useCallback(
    (recording: RecordingView, start: number, end: number, treated: Treated = {}) => {
      const now = soundNow()?.nowPlaying.get();
      if (now && now.recordingId === recording.id && now.startFrame === start && soundNow()?.playhead()) stop();
      else play(recording, start, end, treated);
    },
    [play, stop],
  );
  const switchByItself = useCallback(
    () =>
      setByItself((old) => {
        localStorage.setItem(BY_ITSELF, old ? 'no' : 'yes');
        return !old;
      }),
    [],
  );
  return { byItself, switchByItself, playingId, play, toggle, stop };
}
