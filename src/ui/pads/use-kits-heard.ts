import { useEffect, useRef } from 'react';
import { soundNow } from '../sound/open-sound';

/** Gone over more quickly, kits are passed by. */
const REST_MS = 160;

/**
 * Has kits heard in turn as they are gone over in a list, where something plays: the first comes back when the list is closed
 * without a choice.
 */
export function useKitsHeard(current: string | undefined, choose: (id: string) => void) {
  const first = useRef<string | null>(null);
  const waiting = useRef(0);
  useEffect(() => () => clearTimeout(waiting.current), []);
  return {
    goOver: (id: string | undefined) => {
      clearTimeout(waiting.current);
      if (id === undefined) {
        const back = first.current;
        first.current = null;
        if (back !== null) choose(back);
        return;
      }
      const isThere = id === current && first.current === null;
      if (isThere || (soundNow()?.engine.lapBegan ?? null) === null) return;
      waiting.current = window.setTimeout(() => {
        first.current ??= current ?? null;
        choose(id);
      }, REST_MS);
    },
    take: (id: string) => {
      clearTimeout(waiting.current);
      first.current = null;
      choose(id);
    },
  };
}
