import type { RecordingTempo } from '@/contract/views';
import { createStore } from '../parts/store';

/** What is heard: the kit and the recording, or one of them to compare. */
export type Compared = 'both' | 'kit' | 'recording';
export const COMPARED: readonly (readonly [Compared, string])[] = [
  ['both', 'kit and recording'],
  ['kit', 'the kit alone'],
  ['recording', 'the recording alone'],
];

/** The recording that sounds on beneath the groove, at the groove's tempo; null for none. */
export const beneath = createStore<RecordingTempo | null>(null);
export const beneathDb = createStore(-6);
export const compared = createStore<Compared>('both');
