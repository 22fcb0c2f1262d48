import type { Impurity } from '@/core/describe/isolation';
import { decibels } from '../parts/figures';

/** A reason for a slice not being bare, in words and with its figure. */
export function reasonOf({ kind, db }: Impurity): string {
  const what = {
    'tail before': 'What rang on from before',
    'another onset': 'Another onset inside',
    'foreign to its group': 'Sound that others of its shelf do not have',
  }[kind];
  return `${what}: ${decibels(db)}`;
}
