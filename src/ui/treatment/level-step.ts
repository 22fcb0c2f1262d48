import { useEffect } from 'react';
import { createStore, useStore } from '../parts/store';

const KEPT = 'undercroft.level-step';
const store = createStore(1);
let isRead = false;

/** The size of one step of level in dB, kept between visits. */
export const levelStep = {
  get: store.get,
  set(db: number) {
    localStorage.setItem(KEPT, String(db));
    store.set(db);
  },
};

export function useLevelStep(): number {
  useEffect(() => {
    if (isRead) return;
    isRead = true;
    const kept = Number(localStorage.getItem(KEPT));
    if (kept > 0) store.set(kept);
  }, []);
  return useStore(store);
}
