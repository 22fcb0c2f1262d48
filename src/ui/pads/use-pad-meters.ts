import { type RefObject, useEffect } from 'react';
import { toDb } from '@/core/signal/units';
import { soundNow } from '../sound/sound';

/** The lowest level that a meter shows, in dBFS. */
const LOWEST_DB = -54;

/**
 * Draws the level of each pad that sounds, by whatever it was struck, and marks it (`data-sounding`): once a frame, past
 * React, on the elements with `data-meter`.
 */
export function usePadMeters(grid: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    let frame = 0;
    const shown = new Map<number, number>();
    const draw = () => {
      frame = requestAnimationFrame(draw);
      const engine = soundNow()?.engine;
      if (!engine || !grid.current) return;
      for (const meter of grid.current.querySelectorAll<HTMLElement>('[data-meter]')) {
        const pad = Number(meter.dataset.meter);
        const share = Math.max(0, Math.min(1, 1 - toDb(engine.peakOf(pad)) / LOWEST_DB));
        const step = Math.round(share * 100);
        if ((shown.get(pad) ?? 0) === step) continue;
        shown.set(pad, step);
        meter.style.transform = `scaleX(${step / 100})`;
        meter.parentElement?.toggleAttribute('data-sounding', step > 0);
      }
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [grid]);
}
