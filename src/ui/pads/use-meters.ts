import { type RefObject, useEffect } from 'react';
import { PROGRAMS } from '@/core/play/limits';
import { toDb } from '@/core/signal/units';
import { soundNow } from '../sound/open-sound';

/** The lowest level that a meter shows, in dBFS. */
const LOWEST_DB = -54;
/** How often silence is asked whether it is over, in ms. */
const LOOK_MS = 40;

/**
 * Draws the level of each pad and bus that sounds, whatever began it, and marks it (`data-sounding`): past React, on the
 * elements with `data-meter`, its place among the engine's programs, once a frame while anything sounds. A page in silence draws no frames.
 */
export function useMeters(grid: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    let frame: number | null = null;
    const shown = new Map<number, number>();
    const draw = () => {
      const isSounding = drawMeters(grid.current, shown);
      frame = isSounding ? requestAnimationFrame(draw) : null;
    };
    const timer = setInterval(() => {
      if (frame === null && sounds()) frame = requestAnimationFrame(draw);
    }, LOOK_MS);
    return () => {
      clearInterval(timer);
      if (frame !== null) cancelAnimationFrame(frame);
    };
  }, [grid]);
}

/** Whether any pad or bus is loud enough to be shown. */
function sounds(): boolean {
  const engine = soundNow()?.engine;
  for (let pad = 0; engine && pad < PROGRAMS; pad++) if (shareOf(engine.peakOf(pad)) > 0) return true;
  return false;
}

function shareOf(peak: number): number {
  return Math.round(100 * Math.max(0, Math.min(1, 1 - toDb(peak) / LOWEST_DB))) / 100;
}

/** Gives whether any meter is up. */
function drawMeters(grid: HTMLElement | null, shown: Map<number, number>): boolean {
  const engine = soundNow()?.engine;
  if (!engine || !grid) return false;
  let any = false;
  for (const meter of grid.querySelectorAll<HTMLElement>('[data-meter]')) {
    const pad = Number(meter.dataset.meter);
    const share = shareOf(engine.peakOf(pad));
    any ||= share > 0;
    if ((shown.get(pad) ?? 0) === share) continue;
    shown.set(pad, share);
    meter.style.transform = `scaleX(${share})`;
    meter.parentElement?.toggleAttribute('data-sounding', share > 0);
  }
  return any;
}
