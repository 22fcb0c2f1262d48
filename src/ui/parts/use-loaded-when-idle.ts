import { useEffect, useRef } from 'react';

/** Loads parts of a page once it is idle, so that they open at once, also while the server is away. */
export function useLoadedWhenIdle(parts: Readonly<Record<string, () => Promise<unknown>>>): void {
  const first = useRef(parts);
  useEffect(() => {
    const idle = requestIdleCallback(() => {
      // A failed load is repeated when the part is needed.
      for (const load of Object.values(first.current)) load().catch(() => {});
    });
    return () => cancelIdleCallback(idle);
  }, []);
}
