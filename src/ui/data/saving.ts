import { useSyncExternalStore } from 'react';

/** How many requests that store something are on their way: what "Saved" in the status line goes by. */
let open = 0;
const listeners = new Set<() => void>();

function change(by: number): void {
  open += by;
  for (const listener of listeners) listener();
}

export const saving = { begin: () => change(1), end: () => change(-1) };

export function useSaving(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => open > 0,
    () => false,
  );
}
