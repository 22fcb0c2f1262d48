import { useEffect } from 'react';
import { positionOfKey } from '@/core/kit/layout';
import { firstRowNow } from '../pads/shown-rows';
import { isTyping } from '../parts/focus';
import { KEY_VELOCITY, releasePad, strikePad } from './door';

/** Plays the pads by computer keys on any page, except while typing. */
export function usePlayKeys(): void {
  useEffect(() => {
    const down = new Map<string, number>();
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || isTyping(event.target)) return;
      const pad = positionOfKey(event.code, firstRowNow());
      if (pad === null) return;
      event.preventDefault();
      if (event.repeat || down.has(event.code)) return;
      down.set(event.code, pad);
      strikePad({ pad, velocity: KEY_VELOCITY, timeMs: event.timeStamp, by: 'keys' });
    };
    const onKeyUp = (event: KeyboardEvent) => {
      const pad = down.get(event.code);
      if (pad === undefined) return;
      down.delete(event.code);
      releasePad(pad);
    };
    // The release of a key is not reported while another window has the focus.
    const onBlur = () => {
      for (const pad of down.values()) releasePad(pad);
      down.clear();
    };
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', onBlur);
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', onBlur);
    };
  }, []);
}
