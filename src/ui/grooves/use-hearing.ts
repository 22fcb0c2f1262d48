import { useCallback, useEffect, useRef } from 'react';
import type { GrooveView } from '@/contract/views';
import { player } from './player';
import { trial } from './trial';

/** Gone over more quickly, entries are passed by. */
const REST_MS = 140;

/**
 * Has entries of a list heard in place of the groove, through the kit under the hands, as they are gone over. When the list is
 * closed all is as it was before.
 */
export function useHearing() {
  const waiting = useRef(0);
  const wasRunning = useRef<boolean | null>(null);
  const turn = useRef(0);
  const hear = useCallback((name: string, load: () => GrooveView | Promise<GrooveView>) => {
    clearTimeout(waiting.current);
    turn.current++;
    const own = turn.current;
    waiting.current = window.setTimeout(async () => {
      try {
        const view = await load();
        if (own !== turn.current) return;
        wasRunning.current ??= player.running.get();
        const keep = () => {};
        trial.set({ of: 'grooves', offers: [{ name, view }], at: 0, keep, isQuiet: true });
        if (!player.running.get()) setTimeout(() => own === turn.current && void player.play(), 0);
      } catch {
        // What cannot be read is passed by; opening it says why.
      }
    }, REST_MS);
  }, []);
  /** Nothing that can be heard is gone over any more: the groove is heard again. */
  const leave = useCallback(() => {
    clearTimeout(waiting.current);
    turn.current++;
    waiting.current = window.setTimeout(() => trial.get()?.isQuiet && trial.set(null), REST_MS);
  }, []);
  const end = useCallback(() => {
    clearTimeout(waiting.current);
    turn.current++;
    if (trial.get()?.isQuiet) trial.set(null);
    if (wasRunning.current === false) player.stop();
    wasRunning.current = null;
  }, []);
  useEffect(() => end, [end]);
  return { hear, leave, end };
}
