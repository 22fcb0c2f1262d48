import { soundNow } from '../sound/open-sound';

/** How often is looked at what sounds: more often than a struck pad's level takes to fall to nothing. */
const LOOK_MS = 250;

/** Reports the recordings that are heard in the output, again and again: a take may begin while one of them sounds. */
export function followHeard(told: (recordingIds: readonly string[]) => void): () => void {
  const look = () => {
    const sounding = soundNow()?.soundingSources() ?? [];
    if (sounding.length > 0) told(sounding);
  };
  look();
  const timer = setInterval(look, LOOK_MS);
  return () => {
    look();
    clearInterval(timer);
  };
}
