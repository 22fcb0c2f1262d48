import { useRef, useState } from 'react';

/** A function that stays the same object while what it does changes, for parts that are drawn anew only when they must be. */
export function useStable<A extends unknown[], R>(action: (...args: A) => R): (...args: A) => R {
  const latest = useRef(action);
  latest.current = action;
  const [stable] = useState(
    () =>
      (...args: A) =>
        latest.current(...args),
  );
  return stable;
}
