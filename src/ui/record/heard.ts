import { soundNow } from '../sound/sound';

/** How often is looked at what sounds: more often than a struck pad's level takes to fall to nothing. */
const LOOK_MS = 250;

/** Tells of every recording that is heard in the output from now on. */
export function followHeard(told: (recordingIds: readonly string[]) => void): () => void {
  const known = new Set<string>();
  const look = () => {
    const fresh = (soundNow()?.soundingSources() ?? []).filter((id) => !known.has(id));
    if (fresh.length === 0) return;
    for (const id of fresh) known.add(id);
    told(fresh);
  };
  look();
  const timer = setInterval(look, LOOK_MS);
  return () => {
    look();
    clearInterval(timer);
  };
}
