import { createStore } from '../parts/store';

/** The step of a bus that is left out while one compares, and the gain that keeps the bus as loud; null for none. */
export const heardBefore = createStore<{
  readonly busId: string;
  readonly stepId: string;
  readonly gainDb: number;
} | null>(null);
