import { createStore } from '../parts/store';

/** Whether the dialog is open that makes a hit of a struck voice. */
export const voiceDialog = createStore(false);
