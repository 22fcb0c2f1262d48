import { type RefObject, useEffect, useState } from 'react';

/** What of a scrolled box is seen, in CSS pixels. */
export interface Scrolled {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Follows a box as it is scrolled and as its size changes, once a frame. */
export function useScrolled(box: RefObject<HTMLElement | null>): Scrolled {
  const [scrolled, setScrolled] = useState<Scrolled>({ left: 0, top: 0, width: 0, height: 0 });
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    let frame = 0;
    const look = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() =>
        setScrolled({
          left: element.scrollLeft,
          top: element.scrollTop,
          width: element.clientWidth,
          height: element.clientHeight,
        }),
      );
    };
    const observer = new ResizeObserver(look);
    observer.observe(element);
    element.addEventListener('scroll', look, { passive: true });
    return () => {
      cancelAnimationFrame(frame);
      observer.disconnect();
      element.removeEventListener('scroll', look);
    };
  }, [box]);
  return scrolled;
}
