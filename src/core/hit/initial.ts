import type { Hit } from './model';

/** Fields of a new hit before it is edited. */
export const HIT_INITIAL = {
  rootHz: null,
  tempoBpm: null,
  tags: [],
  doubt: '',
  strikes: [],
  inherits: true,
  edgesHz: [],
  voice: null,
  binnedAt: null,
} satisfies Partial<Hit>;
