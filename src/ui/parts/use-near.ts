import { type RefObject, useEffect, useState } from 'react';

/** Distance out of view within which something is still rendered, so that it is there when scrolled to. */
const MARGIN_PX = 250;

/** Whether an element is in view of its scrolling parent, or near it. */
export function useNear(ref: RefObject<HTMLElement | null>): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new IntersectionObserver((entries) => setNear(entries.at(-1)?.isIntersecting ?? false), {
      root: element.parentElement,
      rootMargin: `${MARGIN_PX}px 0px`,
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref]);
  return near;
}
