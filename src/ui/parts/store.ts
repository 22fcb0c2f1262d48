import { useSyncExternalStore } from 'react';

/** A value outside React's state that may change sixty times a second: only its subscribers render. */
export interface Store<T> {
  readonly get: () => T;
  readonly set: (value: T) => void;
  readonly subscribe: (listener: () => void) => () => void;
}

export function createStore<T>(first: T): Store<T> {
  let value = first;
  const listeners = new Set<() => void>();
  return {
    get: () => value,
    set: (next) => {
      if (Object.is(next, value)) return;
      value = next;
      for (const listener of [...listeners]) listener();
    },
    subscribe: (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
}

/** A store's value or a selection of it; a selection must be the same object while nothing in it has changed. */
export function useStore<T, U = T>(
  store: Pick<Store<T>, 'get' | 'subscribe'>,
  of: (value: T) => U = (value) => value as unknown as U,
): U {
  const get = () => of(store.get());
  return useSyncExternalStore(store.subscribe, get, get);
}
