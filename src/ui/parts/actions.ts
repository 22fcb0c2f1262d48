import { useEffect, useRef } from 'react';
import { createStore } from './store';

/** An action of a page, as the command box lists it. */
export interface Action {
  readonly name: string;
  /** Its key, worded as in the sheet of shortcuts. */
  readonly key?: string;
  readonly run: () => void;
}

/** Actions of the open page, by the component that registered them. */
export const actionsHere = createStore<ReadonlyMap<symbol, readonly Action[]>>(new Map());

/** Registers actions while the component is mounted. */
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
