import type { Hit } from './model';

/** A hit as it is taken from its recording when nothing has been done to it. */
export const HIT_INITIAL = {
  rootHz: null,
  tempoBpm: null,
  tags: [],
  doubt: '',
  strikes: [],
  binnedAt: null,
} satisfies Partial<Hit>;
