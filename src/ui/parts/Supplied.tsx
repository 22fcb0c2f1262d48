import { useCallback } from 'react';
import { Choice, type Options } from './Choice';
import { createStore, useStore } from './store';

type Shown = 'both' | 'own' | 'supplied';

const OPTIONS: Options<Shown> = [
  ['both', 'own and supplied'],
  ['own', 'own only'],
  ['supplied', 'supplied only'],
];

/** Whether lists show what came with the application; one choice for all of them. */
const suppliedShown = createStore<Shown>('both');

/** Tells which rows of a list are shown. */
export function useSuppliedFilter(): (row: { readonly supplied: boolean }) => boolean {
  const shown = useStore(suppliedShown);
  return useCallback(({ supplied }) => shown === 'both' || supplied === (shown === 'supplied'), [shown]);
}

/** Offers the choice where a list has anything that was supplied. */
export function SuppliedChoice({ rows }: { rows: readonly { readonly supplied: boolean }[] }) {
  const shown = useStore(suppliedShown);
  if (shown === 'both' && !rows.some(({ supplied }) => supplied)) return null;
  return (
    <Choice
      label="Own or supplied"
      className={`h-7 ${shown === 'both' ? 'text-soft' : 'font-semibold text-verdigris'}`}
      value={shown}
      options={OPTIONS}
      onChoose={suppliedShown.set}
    />
  );
}
