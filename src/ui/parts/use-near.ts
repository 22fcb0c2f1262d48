import { type RefObject, useEffect, useState } from 'react';

/** How far out of sight something is still near, so that it is there when it comes into sight. */
const MARGIN_PX = 250;

/** Whether an element is in sight of what it scrolls in, its parent, or near to it: what is not need not be drawn. */
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
