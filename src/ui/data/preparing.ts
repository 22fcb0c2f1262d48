import { createStore } from '../parts/store';

/** Progress of hits this page is preparing, 0..1; null where none are. */
export const preparing = createStore<number | null>(null);
