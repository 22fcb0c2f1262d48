import { type RefObject, useEffect, useMemo, useSyncExternalStore } from 'react';
import { fitAll, type Span } from './view';

/**
 * The span that is shown, outside of React's state: panning changes it sixty times a second, and only what draws it may be
 * drawn anew for that.
 */
export interface SpanDesk {
  readonly get: () => Span;
  readonly set: (change: (span: Span) => Span) => void;
  readonly subscribe: (listener: () => void) => () => void;
  /** Width of the stage in pixels. */
  readonly width: () => number;
}

/** All of the recording until the person zooms. */
export function useSpan(stage: RefObject<HTMLDivElement | null>, frames: number): SpanDesk {
  const desk = useMemo((): SpanDesk => {
    let span: Span = { start: 0, framesPerPixel: frames / 1280 };
    const listeners = new Set<() => void>();
    return {
      get: () => span,
      set: (change) => {
        const next = change(span);
        if (next === span) return;
        span = next;
        for (const listener of listeners) listener();
      },
      subscribe: (listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
      },
      width: () => stage.current?.clientWidth ?? 1280,
    };
  }, [stage, frames]);
  useEffect(() => desk.set(() => fitAll(desk.width(), frames)), [desk, frames]);
  return desk;
}

/** The span as it is, for those that draw it. */
export function useSpanShown(desk: SpanDesk): Span {
  return useSyncExternalStore(desk.subscribe, desk.get, desk.get);
}
