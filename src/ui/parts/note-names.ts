import { noteName } from '@/core/signal/units';
import { createStore, useStore } from './store';

/** The octave number of middle C (MIDI note 60): 4 by the scientific pitch notation, 3 by another common practice. */
export type MiddleOctave = 3 | 4;

const KEY = 'undercroft.middle-c';
const octave = createStore<MiddleOctave>(4);
let isRead = false;

/** The setting is the browser's; it is read on first use. */
function store() {
  if (!isRead && typeof localStorage !== 'undefined') {
    isRead = true;
    octave.set(localStorage.getItem(KEY) === '3' ? 3 : 4);
  }
  return octave;
}

export function useMiddleOctave(): MiddleOctave {
  return useStore({ get: () => store().get(), subscribe: octave.subscribe });
}

export function setMiddleOctave(wanted: MiddleOctave): void {
  localStorage.setItem(KEY, String(wanted));
  octave.set(wanted);
}

/** A note's name by that setting as it is now, outside components. */
export function nameOfNote(note: number): string {
  return noteName(note, store().get());
}

/** Names of MIDI notes by that setting. */
export function useNoteName(): (note: number) => string {
  const middle = useMiddleOctave();
  return (note) => noteName(note, middle);
}
