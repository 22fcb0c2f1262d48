'use client';

import { useHits } from '../data/queries';
import type { Stretch } from '../pads/laying';
import { RecipeMenu } from './RecipeMenu';
import { targetsOf } from './targets';

/** Adds steps to what is chosen, wherever it is chosen: slices that are no hits yet become hits. */
export function TreatMany({
  stretches,
  label = 'Treat …',
  className,
  up = true,
}: {
  stretches: readonly Stretch[];
  label?: string;
  className?: string;
  up?: boolean;
}) {
  const hits = useHits().data ?? [];
  return (
    <RecipeMenu
      targets={() => targetsOf(stretches, hits, () => crypto.randomUUID())}
      count={stretches.length}
      {...{ label, up, ...(className ? { className } : {}) }}
    />
  );
}
