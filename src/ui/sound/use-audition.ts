import { useCallback, useEffect, useState } from 'react';
import { complain } from '../parts/notice';
import type { Auditioned } from './audition';
import { openSound, soundNow } from './open-sound';

const BY_ITSELF = 'undercroft.arrows-sound';

/** Auditions in lists: one at a time, by key, button, or automatically as arrows choose. */
export function useAudition() {
  const [byItself, setByItself] = useState(true);
  const [playingId, setPlayingId] = useState<string | null>(null);
  useEffect(() => setByItself(localStorage.getItem(BY_ITSELF) !== 'no'), []);
  useEffect(() => {
    const timer = setInterval(() => setPlayingId(soundNow()?.audition.playhead()?.recordingId ?? null), 150);
    return () => clearInterval(timer);
  }, []);
  const stop = useCallback(() => soundNow()?.audition.stop(), []);
  const play = useCallback((what: Auditioned) => {
    const begin = async () => (soundNow() ?? (await openSound())).audition.play(what);
    begin().catch((error: Error) => complain(error.message));
  }, []);
  const toggle = useCallback(
    (what: Auditioned) => {
      const now = soundNow()?.audition.nowPlaying.get();
      const same = now && now.recordingId === what.recording.id && now.startFrame === what.startFrame;
      if (same && soundNow()?.audition.playhead()) stop();
      else play(what);
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
