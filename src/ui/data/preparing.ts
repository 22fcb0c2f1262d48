import { createStore } from '../parts/store';

/** How far the hits are that this page has prepared, 0..1; null where none are. */
export const preparing = createStore<number | null>(null);
