import { type RefObject, useEffect, useRef } from 'react';

/**
 * Calls back at each turn of the wheel over an element, with the element's left edge in CSS pixels, and keeps the page
 * from scrolling: React registers wheel listeners as passive, which cannot.
 */
export function useWheel(
  element: RefObject<HTMLElement | null>,
  onWheel: (event: WheelEvent, left: number) => void,
): void {
  const latest = useRef(onWheel);
  latest.current = onWheel;
  useEffect(() => {
    const target = element.current;
    const listen = (event: WheelEvent) => {
      event.preventDefault();
      latest.current(event, (event.currentTarget as HTMLElement).getBoundingClientRect().left);
    };
    target?.addEventListener('wheel', listen, { passive: false });
    return () => target?.removeEventListener('wheel', listen);
  }, [element]);
}
