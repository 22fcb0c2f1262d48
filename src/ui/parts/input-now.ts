import { createStore } from './store';

/** What every page shows of an input that is open, and whether leaving the page would lose some of it; null where none is. */
export const inputNow = createStore<{ readonly text: string; readonly isRecording: boolean } | null>(null);
