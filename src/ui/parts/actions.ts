import { useEffect, useRef } from 'react';
import { createStore } from './store';

/** Something a page can do, as the box that finds and does lists it. */
export interface Action {
  readonly name: string;
  /** The key that does it, in the words of the sheet of keys. */
  readonly key?: string;
  readonly run: () => void;
}

/** What can be done on the page that is open, by who told it. */
export const actionsHere = createStore<ReadonlyMap<symbol, readonly Action[]>>(new Map());

/** Tells what can be done as long as the component is there. */
export function useActions(actions: readonly Action[]): void {
  const now = useRef(actions);
  now.current = actions;
  const names = actions.map(({ name, key = '' }) => `${name}\t${key}`).join('\n');
  useEffect(() => {
    const owner = Symbol(names);
    const listed = names.split('\n').map((line, i): Action => {
      const [name = '', key = ''] = line.split('\t');
      return { name, key, run: () => now.current[i]?.run() };
    });
    actionsHere.set(new Map([...actionsHere.get(), [owner, listed]]));
    return () => actionsHere.set(new Map([...actionsHere.get()].filter(([known]) => known !== owner)));
  }, [names]);
}
