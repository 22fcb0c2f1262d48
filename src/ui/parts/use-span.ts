import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { clampSpan, fitAll, type Span, zoomAt } from '@/picture/span';
import { createStore, useStore } from './store';
import { useWheel } from './use-wheel';

/** The visible span, which panning changes sixty times a second. */
export interface SpanDesk {
  readonly get: () => Span;
  readonly set: (change: (span: Span) => Span) => void;
  readonly subscribe: (listener: () => void) => () => void;
  /** Width of the stage in pixels. */
  readonly width: () => number;
}

/** The whole recording until the person zooms. */
export function useSpan(stage: RefObject<HTMLDivElement | null>, frames: number): SpanDesk {
  const width = useRef(1280);
  const desk = useMemo((): SpanDesk => {
    const store = createStore<Span>({ start: 0, framesPerPixel: frames / 1280 });
    return {
      get: store.get,
      set: (change) => store.set(change(store.get())),
      subscribe: store.subscribe,
      // Reading the element's width would force a layout while panning.
      width: () => width.current,
    };
  }, [frames]);
  useEffect(() => {
    const element = stage.current;
    if (!element) return;
    width.current = element.clientWidth;
    // After a resize the same stretch stays visible.
    const measure = () => {
      const before = width.current;
      const now = element.clientWidth;
      if (now === before || now === 0) return;
      width.current = now;
      desk.set((span) => ({ ...span, framesPerPixel: (span.framesPerPixel * before) / now }));
    };
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, [stage, desk]);
  useEffect(() => desk.set(() => fitAll(desk.width(), frames)), [desk, frames]);
  return desk;
}

/** The span as React state, for the few components that render by it. */
export function useSpanShown(desk: SpanDesk): Span {
  return useStore(desk);
}

/** The span once it has rested for so long. */
export function useRestedSpan(desk: SpanDesk, ms: number): Span {
  const [rested, setRested] = useState(desk.get);
  useEffect(() => {
    let timer = setTimeout(() => setRested(desk.get()), 0);
    const unsubscribe = desk.subscribe(() => {
      clearTimeout(timer);
      timer = setTimeout(() => setRested(desk.get()), ms);
    });
    return () => {
      clearTimeout(timer);
      unsubscribe();
    };
  }, [desk, ms]);
  return rested;
}

/** Zooms by the wheel about the pointer, and pans by it sideways or with Shift. */
export function useZoomWheel(element: RefObject<HTMLElement | null>, spans: SpanDesk, frames: number): void {
  useWheel(element, (event, left) => {
    const width = spans.width();
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX;
      spans.set((s) => clampSpan({ ...s, start: s.start + sideways * s.framesPerPixel }, width, frames));
    } else {
      // A pinch comes as a wheel with Ctrl held, in smaller steps.
      const speed = event.ctrlKey ? 0.011 : 0.0022;
      spans.set((s) => zoomAt(s, Math.exp(event.deltaY * speed), event.clientX - left, width, frames));
    }
  });
}
