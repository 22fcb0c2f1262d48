import { useRef, useState } from 'react';

/** A function of constant identity that always calls the latest version, for memoised components. */
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
