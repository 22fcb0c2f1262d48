import { createStore } from '../parts/store';
import type { Sound } from './sound';

let opened: Promise<Sound> | null = null;
/** The page's sound once it is open. */
export const openedSound = createStore<Sound | null>(null);

/** The page's sound, opened on first call. */
export function openSound(): Promise<Sound> {
  opened ??= import('./sound')
    .then(({ Sound }) => Sound.open())
    .then(
      (sound) => {
        (globalThis as { undercroftSound?: Sound }).undercroftSound = sound;
        openedSound.set(sound);
        return sound;
      },
      (error: Error) => {
        // Another gesture tries again.
        opened = null;
        throw error;
      },
    );
  return opened;
}

/** The sound if it is open already, for striking without awaiting. */
export function soundNow(): Sound | null {
  return openedSound.get();
}
